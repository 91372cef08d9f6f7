// Trails: single precision, headings as vectors, cells by masks, and the field spread by rows of sums.
#include "yardstick.h"

#define BITS 10
#define SIDE (1 << BITS)
#define MASK (SIDE - 1)

static inline float *cell_of(float *field, float x, float y) {
  return field + ((((uint32_t)(int32_t)(y + SIDE) & MASK) << BITS) | ((uint32_t)(int32_t)(x + SIDE) & MASK));
}

static inline float wrapped(float v) {
  return v < 0 ? v + SIDE : v >= SIDE ? v - SIDE : v;
}

static void spread(const float *from, float *to, float *sums) {
  for (uint32_t j = 0; j < SIDE; j++) {
    const float *above = from + (((j - 1) & MASK) << BITS), *row = from + (j << BITS), *under = from + (((j + 1) & MASK) << BITS);
    float *out = to + (j << BITS);
    for (uint32_t i = 0; i < SIDE; i++) sums[i + 1] = above[i] + row[i] + under[i];
    sums[0] = sums[SIDE];
    sums[SIDE + 1] = sums[1];
    for (uint32_t i = 0; i < SIDE; i++) out[i] = (sums[i] + sums[i + 1] + sums[i + 2]) * 0.1f;
  }
}

static Outcome trails(uint32_t seed, uint32_t n, uint32_t steps) {
  float *field = NEW(float, SIDE *SIDE), *next = NEW(float, SIDE *SIDE), *sums = NEW(float, SIDE + 2);
  float *x = NEW(float, n), *y = NEW(float, n), *east = NEW(float, n), *north = NEW(float, n);
  Luck luck = luck_of(seed);
  for (uint32_t i = 0; i < n; i++) {
    x[i] = unit(&luck) * SIDE;
    y[i] = unit(&luck) * SIDE;
    double angle = unit(&luck) * 6.283185307179586;
    east[i] = cos(angle);
    north[i] = sin(angle);
  }
  const float ahead = 9 * 0.86602540378443865f, aside = 4.5f, half = 0.70710678118654752f;
  for (uint32_t step = 0; step < steps; step++) {
    for (uint32_t i = 0; i < n; i++) {
      float px = x[i], py = y[i], e = east[i], m = north[i];
      float front = *cell_of(field, px + 9 * e, py + 9 * m);
      float left = *cell_of(field, px + e * ahead - m * aside, py + e * aside + m * ahead);
      float right = *cell_of(field, px + e * ahead + m * aside, py - e * aside + m * ahead);
      if (front < left || front < right) {
        int to_left = left > right || (left == right && word(&luck) >> 31);
        float turned = to_left ? (e - m) * half : (e + m) * half;
        m = to_left ? (e + m) * half : (m - e) * half;
        e = turned;
        east[i] = e;
        north[i] = m;
      }
      x[i] = px = wrapped(px + e);
      y[i] = py = wrapped(py + m);
      *cell_of(field, px, py) += 5;
    }
    spread(field, next, sums);
    float *held = field;
    field = next;
    next = held;
  }
  double sum = 0;
  for (uint32_t c = 0; c < SIDE * SIDE; c++) sum += field[c];
  free(field), free(next), free(sums), free(x), free(y), free(east), free(north);
  return (Outcome){(double)n * steps, sum};
}

MAIN(trails(1, 1000000, 8))
