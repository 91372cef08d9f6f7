// Mixing: states and timers as bytes, one pass for meetings and one for what time brings.
#include "yardstick.h"

enum { WELL, CAUGHT, ILL, PAST, TO_CATCH };

static Outcome mixing(uint32_t seed, uint32_t n, uint32_t steps) {
  uint8_t *state = NEW(uint8_t, n), *timer = NEW(uint8_t, n);
  Luck luck = luck_of(seed);
  for (uint32_t i = 0; i < 20; i++) {
    state[i] = ILL;
    timer[i] = gamma_steps(&luck);
  }
  double ever = 20;
  for (uint32_t step = 0; step < steps; step++) {
    for (uint32_t i = 0; i < n; i++) {
      if (state[i] != ILL) continue;
      for (int k = 0; k < 8; k++) {
        uint32_t j = below(&luck, n);
        if (state[j] == WELL && word(&luck) < CHANCE(0.05)) state[j] = TO_CATCH;
      }
    }
    for (uint32_t i = 0; i < n; i++) {
      switch (state[i]) {
        case TO_CATCH:
          state[i] = CAUGHT;
          timer[i] = 3 + below(&luck, 4);
          ever++;
          break;
        case CAUGHT:
          if (--timer[i]) break;
          state[i] = ILL;
          timer[i] = gamma_steps(&luck);
          break;
        case ILL:
          if (--timer[i] == 0) state[i] = PAST;
      }
    }
  }
  free(state);
  free(timer);
  return (Outcome){(double)n * steps, ever};
}
