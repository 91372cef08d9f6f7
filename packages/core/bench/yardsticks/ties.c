// Ties: a preferential network as rows of partners, states as bytes, and a list of those who sing.
#include "yardstick.h"

#define EACH 3
enum { QUIET, SINGING, WEARY };

static Outcome ties(uint32_t seed, uint32_t n, uint32_t steps) {
  uint32_t most = n * EACH + EACH * (EACH + 1) / 2, many = 0;
  uint32_t *ends = NEW(uint32_t, 2 * most), *start = NEW(uint32_t, n + 2), *other = NEW(uint32_t, 2 * most);
  uint8_t *state = NEW(uint8_t, n);
  Luck luck = luck_of(seed);
  for (uint32_t p = 0; p <= EACH; p++)
    for (uint32_t q = 0; q < p; q++) {
      ends[many++] = p;
      ends[many++] = q;
    }
  for (uint32_t p = EACH + 1; p < n; p++) {
    uint32_t had = many, chosen[EACH];
    for (uint32_t k = 0; k < EACH;) {
      uint32_t q = ends[below(&luck, had)], is_new = 1;
      for (uint32_t l = 0; l < k; l++) is_new &= chosen[l] != q;
      if (is_new) chosen[k++] = q;
    }
    for (uint32_t k = 0; k < EACH; k++) {
      ends[many++] = p;
      ends[many++] = chosen[k];
    }
  }
  for (uint32_t e = 0; e < many; e++) start[ends[e] + 2]++;
  for (uint32_t p = 2; p < n + 2; p++) start[p] += start[p - 1];
  for (uint32_t e = 0; e < many; e++) other[start[ends[e] + 1]++] = ends[e ^ 1];
  for (uint32_t i = 0; i < 200;) {
    uint32_t p = below(&luck, n);
    if (state[p]) continue;
    state[p] = SINGING;
    i++;
  }
  uint32_t singing = 0;
  for (uint32_t step = 0; step < steps; step++) {
    for (uint32_t p = 0; p < n; p++) {
      if (state[p] != SINGING) continue;
      for (uint32_t j = start[p]; j < start[p + 1]; j++)
        if (state[other[j]] == QUIET && word(&luck) < CHANCE(0.04)) state[other[j]] = SINGING;
    }
    for (uint32_t p = 0; p < n; p++) {
      if (state[p] != SINGING) continue;
      uint32_t q = below(&luck, n);
      if (state[q] == QUIET && word(&luck) < CHANCE(0.02)) state[q] = SINGING;
    }
    singing = 0;
    for (uint32_t p = 0; p < n; p++) {
      if (state[p] != SINGING) continue;
      if (word(&luck) < CHANCE(0.1)) state[p] = WEARY;
      else singing++;
    }
  }
  free(ends), free(start), free(other), free(state);
  return (Outcome){(double)n * steps, singing};
}

MAIN(ties(1, 200000, 100))
