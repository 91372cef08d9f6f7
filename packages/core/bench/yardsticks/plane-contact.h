// Plane contact: agents sorted by cell each step, with places and states copied into that order, so that who is near lies near.
#include "yardstick.h"

#define SIDE 1000
#define REACH 2
#define COLUMNS (SIDE / REACH)
#define CELLS (COLUMNS * COLUMNS)

static inline double wrapped(double v) {
  return v < 0 ? v + SIDE : v >= SIDE ? v - SIDE : v;
}

static inline double shorter(double d) {
  return d > SIDE / 2.0 ? d - SIDE : d < -SIDE / 2.0 ? d + SIDE : d;
}

static Outcome plane_contact(uint32_t seed, uint32_t n, uint32_t steps, int in_turn) {
  double *x = NEW(double, n), *y = NEW(double, n), *direction = NEW(double, n), *near_x = NEW(double, n), *near_y = NEW(double, n);
  uint8_t *ill = NEW(uint8_t, n), *was_ill = NEW(uint8_t, n), *timer = NEW(uint8_t, n);
  uint32_t *start = NEW(uint32_t, CELLS + 1), *cell = NEW(uint32_t, n), *member = NEW(uint32_t, n), *place = NEW(uint32_t, n), *order = NEW(uint32_t, n);
  const double radians = 3.14159265358979324 / 180;
  Luck luck = luck_of(seed);
  Normal spare = {0, 0};
  for (uint32_t i = 0; i < n; i++) {
    x[i] = unit(&luck) * SIDE;
    y[i] = unit(&luck) * SIDE;
    direction[i] = unit(&luck) * 360 * radians;
    order[i] = i;
  }
  for (uint32_t i = 0; i < 2000; i++) {
    ill[i] = 1;
    timer[i] = 30;
  }
  uint32_t many = 0;
  for (uint32_t step = 0; step < steps; step++) {
    memset(start, 0, (CELLS + 1) * sizeof(uint32_t));
    for (uint32_t i = 0; i < n; i++) {
      direction[i] += 40 * radians * normal(&luck, &spare);
      double px = wrapped(x[i] + sin(direction[i])), py = wrapped(y[i] + cos(direction[i]));
      x[i] = px;
      y[i] = py;
      start[cell[i] = (uint32_t)(py / REACH) * COLUMNS + (uint32_t)(px / REACH)]++;
    }
    for (uint32_t c = 0, at = 0; c <= CELLS; c++) start[c] = at += start[c];
    for (uint32_t i = n; i-- > 0;) {
      uint32_t at = --start[cell[i]];
      member[at] = i;
      place[i] = at;
      near_x[at] = x[i];
      near_y[at] = y[i];
      was_ill[at] = ill[i];
    }
    if (in_turn) shuffle(&luck, order, n);
    for (uint32_t turn = 0; turn < n; turn++) {
      uint32_t i = in_turn ? order[turn] : turn;
      if (!ill[i] || (!in_turn && !was_ill[place[i]])) continue;
      int32_t column = cell[i] % COLUMNS, row = cell[i] / COLUMNS;
      for (int32_t dr = -1; dr <= 1; dr++) {
        uint32_t r = (row + dr + COLUMNS) % COLUMNS;
        for (int32_t dc = -1; dc <= 1; dc++) {
          uint32_t c = r * COLUMNS + (column + dc + COLUMNS) % COLUMNS;
          for (uint32_t j = start[c]; j < start[c + 1]; j++) {
            if (was_ill[j]) continue;
            double dx = shorter(near_x[j] - x[i]), dy = shorter(near_y[j] - y[i]);
            if (dx * dx + dy * dy > REACH * REACH || word(&luck) >= CHANCE(0.08)) continue;
            ill[member[j]] = 1;
            timer[member[j]] = 30;
            if (in_turn) was_ill[j] = 1;
          }
        }
      }
    }
    many = 0;
    for (uint32_t i = 0; i < n; i++) {
      if (!ill[i]) continue;
      if (--timer[i] == 0) ill[i] = 0;
      many += ill[i];
    }
  }
  free(x), free(y), free(direction), free(near_x), free(near_y), free(ill), free(was_ill), free(timer);
  free(start), free(cell), free(member), free(place), free(order);
  return (Outcome){(double)n * steps, many};
}
