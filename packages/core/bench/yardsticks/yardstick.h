// What every yardstick needs: luck from one stream, memory, CPU time, and the line it prints for each run.
#ifndef YARDSTICK_H
#define YARDSTICK_H

#include <math.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

typedef struct {
  uint32_t a, b, c, d;
} Luck;

static inline uint32_t rotated(uint32_t word, int by) {
  return word << by | word >> (32 - by);
}

static inline uint32_t mixed(uint32_t h) {
  h ^= h >> 16;
  h *= 0x21f0aaadu;
  h ^= h >> 15;
  h *= 0x735a2d97u;
  return h ^ h >> 15;
}

static Luck luck_of(uint32_t seed) {
  Luck luck;
  luck.a = mixed(seed += 0x9e3779b9u);
  luck.b = mixed(seed += 0x9e3779b9u);
  luck.c = mixed(seed += 0x9e3779b9u);
  luck.d = mixed(seed += 0x9e3779b9u);
  return luck;
}

static inline uint32_t word(Luck *luck) {
  uint32_t out = rotated(luck->a + luck->d, 7) + luck->a, t = luck->b << 9;
  luck->c ^= luck->a;
  luck->d ^= luck->b;
  luck->b ^= luck->c;
  luck->a ^= luck->d;
  luck->c ^= t;
  luck->d = rotated(luck->d, 11);
  return out;
}

static inline uint32_t below(Luck *luck, uint32_t n) {
  return (uint32_t)((uint64_t)word(luck) * n >> 32);
}

static inline double unit(Luck *luck) {
  return word(luck) / 4294967296.0;
}

// The word below which something of a chance happens.
#define CHANCE(p) ((uint32_t)((p) * 4294967296.0))

// A normal number by the polar method, which gives two at a time.
typedef struct {
  double spare;
  int has_spare;
} Normal;

static inline double normal(Luck *luck, Normal *normal) {
  if (normal->has_spare) {
    normal->has_spare = 0;
    return normal->spare;
  }
  double x, y, q;
  do {
    x = 2 * unit(luck) - 1;
    y = 2 * unit(luck) - 1;
    q = x * x + y * y;
  } while (q >= 1 || q == 0);
  double f = sqrt(-2 * log(q) / q);
  normal->spare = y * f;
  normal->has_spare = 1;
  return x * f;
}

// Whole steps of a gamma of mean 8 and shape 4, at least one.
static inline uint32_t gamma_steps(Luck *luck) {
  double product = 1;
  for (int i = 0; i < 4; i++) product *= (word(luck) + 0.5) / 4294967296.0;
  double steps = floor(-2 * log(product) + 0.5);
  return steps < 1 ? 1 : (uint32_t)steps;
}

static inline void shuffle(Luck *luck, uint32_t *list, uint32_t n) {
  for (uint32_t i = n - 1; i > 0; i--) {
    uint32_t j = below(luck, i + 1), held = list[i];
    list[i] = list[j];
    list[j] = held;
  }
}

static void *zeroes(size_t count, size_t size) {
  void *memory = calloc(count, size);
  if (!memory) exit(1);
  return memory;
}
#define NEW(type, count) ((type *)zeroes((count), sizeof(type)))

// What a run comes to: turns of agents, and a number that says whether it is the model it should be.
typedef struct {
  double agent_steps, sum;
} Outcome;

static double cpu_ms(void) {
  struct timespec t;
  clock_gettime(CLOCK_PROCESS_CPUTIME_ID, &t);
  return t.tv_sec * 1e3 + t.tv_nsec * 1e-6;
}

// Runs twice and prints the second: CPU time in ms, turns of agents, and the sum.
#define MAIN(run)                                                                        \
  int main(void) {                                                                       \
    (run);                                                                               \
    double from = cpu_ms();                                                              \
    Outcome outcome = (run);                                                             \
    printf("%.3f %.0f %.6g\n", cpu_ms() - from, outcome.agent_steps, outcome.sum);      \
    return 0;                                                                            \
  }

#endif
