#include "mixing.h"

static Outcome many(uint32_t runs) {
  Outcome all = {0, 0};
  for (uint32_t seed = 1; seed <= runs; seed++) {
    Outcome one = mixing(seed, 2000, 200);
    all.agent_steps += one.agent_steps;
    all.sum += one.sum / runs;
  }
  return all;
}

MAIN(many(50))
