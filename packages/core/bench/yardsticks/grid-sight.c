// Grid with sight: one number a cell, a guard in its upper half and who is out in its lower one, with a margin that mirrors the other side.
#include "yardstick.h"

#define SIGHT 7
#define GUARD 65536
static const int32_t HALF[2 * SIGHT + 1] = {0, 3, 4, 5, 6, 6, 6, 7, 6, 6, 6, 5, 4, 3, 0};

typedef struct {
  uint32_t side, stride;
  int32_t *seen, *who;
} Grid;

static inline uint32_t around(int32_t at, uint32_t side) {
  return at < 0 ? at + side : at >= (int32_t)side ? at - side : (uint32_t)at;
}

// Writes what is seen of a cell, and of its mirror images in the margin.
static inline void show(const Grid *grid, uint32_t x, uint32_t y, int32_t value) {
  int32_t side = grid->side, xs[2] = {(int32_t)x + SIGHT, -1}, ys[2] = {(int32_t)y + SIGHT, -1};
  if (x < SIGHT) xs[1] = xs[0] + side;
  else if ((int32_t)x >= side - SIGHT) xs[1] = xs[0] - side;
  if (y < SIGHT) ys[1] = ys[0] + side;
  else if ((int32_t)y >= side - SIGHT) ys[1] = ys[0] - side;
  for (int j = 0; j < 2 && ys[j] >= 0; j++)
    for (int i = 0; i < 2 && xs[i] >= 0; i++) grid->seen[ys[j] * grid->stride + xs[i]] = value;
}

static inline const int32_t *first_row(const Grid *grid, uint32_t x, uint32_t y) {
  return grid->seen + y * grid->stride + x + SIGHT;
}

static Outcome grid_sight(uint32_t seed, uint32_t side, uint32_t steps) {
  uint32_t cells = side * side, voles = cells * 7 / 10, owls = cells / 25, n = voles + owls;
  Grid grid = {side, side + 2 * SIGHT, NEW(int32_t, (side + 2 * SIGHT) * (side + 2 * SIGHT)), NEW(int32_t, cells)};
  uint32_t *at = NEW(uint32_t, n), *order = NEW(uint32_t, n), *places = NEW(uint32_t, cells);
  int32_t *held = NEW(int32_t, n);
  uint8_t *out = NEW(uint8_t, n);
  double *grudge = NEW(double, n), *caution = NEW(double, n);
  Luck luck = luck_of(seed);
  for (uint32_t c = 0; c < cells; c++) {
    places[c] = c;
    grid.who[c] = -1;
  }
  shuffle(&luck, places, cells);
  for (uint32_t i = 0; i < n; i++) {
    at[i] = places[i];
    grid.who[at[i]] = i;
    order[i] = i;
    grudge[i] = unit(&luck) * 0.2;
    caution[i] = unit(&luck);
    if (i >= voles) show(&grid, at[i] % side, at[i] / side, GUARD);
  }
  uint32_t found[256];
  int32_t now_out = 0;
  for (uint32_t step = 0; step < steps; step++) {
    shuffle(&luck, order, n);
    for (uint32_t turn = 0; turn < n; turn++) {
      uint32_t i = order[turn], x, y, cell;
      if (held[i] > 0) {
        if (--held[i] > 0) continue;
        do cell = below(&luck, cells);
        while (grid.who[cell] >= 0);
        grid.who[cell] = i;
        at[i] = cell;
        x = cell % side;
        y = cell / side;
      } else {
        uint32_t from = at[i], x0 = from % side, y0 = from / side;
        x = x0;
        y = y0;
        for (int tries = 0; tries < 200; tries++) {
          uint32_t k = below(&luck, 225), toX = around((int32_t)(x0 + k % 15) - SIGHT, side),
                   toY = around((int32_t)(y0 + k / 15) - SIGHT, side);
          if (grid.who[toY * side + toX] >= 0) continue;
          int32_t value = i >= voles ? GUARD : out[i];
          if (value) {
            show(&grid, x0, y0, 0);
            show(&grid, toX, toY, value);
          }
          grid.who[from] = -1;
          at[i] = toY * side + toX;
          grid.who[at[i]] = i;
          x = toX;
          y = toY;
          break;
        }
      }
      const int32_t *row = first_row(&grid, x, y);
      if (i < voles) {
        int32_t sum = 0;
        for (int v = 0; v <= 2 * SIGHT; v++, row += grid.stride)
          for (int32_t u = -HALF[v]; u <= HALF[v]; u++) sum += row[u];
        int32_t others = (sum & 65535) - out[i], guards = sum >> 16;
        uint8_t now = grudge[i] - caution[i] * (1 - exp(-2.0 * (guards / (others + 1)))) > 0.12;
        if (now == out[i]) continue;
        out[i] = now;
        now_out += now ? 1 : -1;
        show(&grid, x, y, now);
        continue;
      }
      uint32_t many = 0;
      for (int v = 0; v <= 2 * SIGHT; v++, row += grid.stride)
        for (int32_t u = -HALF[v]; u <= HALF[v]; u++)
          if (row[u] == 1) found[many++] = v * 16 + u + SIGHT;
      if (!many) continue;
      uint32_t k = found[below(&luck, many)], foundX = around((int32_t)(x + (k & 15)) - SIGHT, side),
               foundY = around((int32_t)(y + (k >> 4)) - SIGHT, side), v = grid.who[foundY * side + foundX],
               term = below(&luck, 31);
      out[v] = 0;
      now_out--;
      show(&grid, foundX, foundY, 0);
      if (!term) continue;
      grid.who[foundY * side + foundX] = -1;
      held[v] = term;
    }
  }
  free(grid.seen), free(grid.who), free(at), free(order), free(places), free(held), free(out), free(grudge), free(caution);
  return (Outcome){(double)n * steps, now_out};
}

MAIN(grid_sight(1, 200, 30))
