// Plane contact where each agent moves and passes on in one turn: agents as records, in lists by cell that are kept up.
#include "yardstick.h"

#define SIDE 1000
#define REACH 2
#define COLUMNS (SIDE / REACH)
#define CELLS (COLUMNS * COLUMNS)

typedef struct {
  double x, y, direction;
  int32_t next, previous, cell;
  uint8_t ill, timer;
} Vole;

static inline double wrapped(double v) {
  return v < 0 ? v + SIDE : v >= SIDE ? v - SIDE : v;
}

static inline double shorter(double d) {
  return d > SIDE / 2.0 ? d - SIDE : d < -SIDE / 2.0 ? d + SIDE : d;
}

static inline int32_t cell_of(double x, double y) {
  return (int32_t)(y / REACH) * COLUMNS + (int32_t)(x / REACH);
}

static inline void list(Vole *voles, int32_t *head, int32_t i, int32_t cell) {
  voles[i].next = head[cell];
  voles[i].previous = -1;
  voles[i].cell = cell;
  if (head[cell] >= 0) voles[head[cell]].previous = i;
  head[cell] = i;
}

static inline void unlist(Vole *voles, int32_t *head, int32_t i) {
  Vole *vole = &voles[i];
  if (vole->previous < 0) head[vole->cell] = vole->next;
  else voles[vole->previous].next = vole->next;
  if (vole->next >= 0) voles[vole->next].previous = vole->previous;
}

static Outcome plane_contact_one_turn(uint32_t seed, uint32_t n, uint32_t steps) {
  Vole *voles = NEW(Vole, n);
  int32_t *head = NEW(int32_t, CELLS);
  uint32_t *order = NEW(uint32_t, n), many = 0;
  const double radians = 3.14159265358979324 / 180;
  Luck luck = luck_of(seed);
  Normal spare = {0, 0};
  memset(head, -1, CELLS * sizeof(int32_t));
  for (uint32_t i = 0; i < n; i++) {
    voles[i].x = unit(&luck) * SIDE;
    voles[i].y = unit(&luck) * SIDE;
    voles[i].direction = unit(&luck) * 360 * radians;
    order[i] = i;
    list(voles, head, i, cell_of(voles[i].x, voles[i].y));
  }
  for (uint32_t i = 0; i < 2000; i++) {
    voles[i].ill = 1;
    voles[i].timer = 30;
  }
  for (uint32_t step = 0; step < steps; step++) {
    shuffle(&luck, order, n);
    for (uint32_t turn = 0; turn < n; turn++) {
      int32_t i = order[turn];
      Vole *vole = &voles[i];
      vole->direction += 40 * radians * normal(&luck, &spare);
      vole->x = wrapped(vole->x + sin(vole->direction));
      vole->y = wrapped(vole->y + cos(vole->direction));
      int32_t cell = cell_of(vole->x, vole->y);
      if (cell != vole->cell) {
        unlist(voles, head, i);
        list(voles, head, i, cell);
      }
      if (!vole->ill) continue;
      int32_t column = cell % COLUMNS, row = cell / COLUMNS;
      for (int32_t dr = -1; dr <= 1; dr++) {
        int32_t r = (row + dr + COLUMNS) % COLUMNS;
        for (int32_t dc = -1; dc <= 1; dc++) {
          for (int32_t j = head[r * COLUMNS + (column + dc + COLUMNS) % COLUMNS]; j >= 0; j = voles[j].next) {
            Vole *other = &voles[j];
            if (other->ill) continue;
            double dx = shorter(other->x - vole->x), dy = shorter(other->y - vole->y);
            if (dx * dx + dy * dy > REACH * REACH || word(&luck) >= CHANCE(0.08)) continue;
            other->ill = 1;
            other->timer = 30;
          }
        }
      }
    }
    many = 0;
    for (uint32_t i = 0; i < n; i++) {
      if (!voles[i].ill) continue;
      if (--voles[i].timer == 0) voles[i].ill = 0;
      many += voles[i].ill;
    }
  }
  free(voles), free(head), free(order);
  return (Outcome){(double)n * steps, many};
}

MAIN(plane_contact_one_turn(1, 200000, 200))
