// Births and deaths: herds as columns that are closed up after each pass, grazers listed by cell for those who hunt.
#include "yardstick.h"

#define SIDE 300
#define CELLS (SIDE * SIDE)
#define MOST 400000

typedef struct {
  int32_t *x, *y;
  double *direction, *energy;
  uint8_t *gone;
  uint32_t used;
} Herd;

static Herd herd_of(Luck *luck, uint32_t many, double low, double high) {
  Herd herd = {NEW(int32_t, MOST), NEW(int32_t, MOST), NEW(double, MOST), NEW(double, MOST), NEW(uint8_t, MOST), many};
  for (uint32_t i = 0; i < many; i++) {
    herd.x[i] = below(luck, SIDE);
    herd.y[i] = below(luck, SIDE);
    herd.direction[i] = unit(luck) * 360;
    herd.energy[i] = low + unit(luck) * (high - low);
  }
  return herd;
}

static void let_go(Herd *herd) {
  free(herd->x), free(herd->y), free(herd->direction), free(herd->energy), free(herd->gone);
}

static void close_up(Herd *herd) {
  uint32_t to = 0;
  for (uint32_t from = 0; from < herd->used; from++) {
    if (herd->gone[from]) continue;
    herd->x[to] = herd->x[from];
    herd->y[to] = herd->y[from];
    herd->direction[to] = herd->direction[from];
    herd->energy[to] = herd->energy[from];
    herd->gone[to++] = 0;
  }
  herd->used = to;
}

static inline int32_t around(int32_t at) {
  return at < 0 ? at + SIDE : at >= SIDE ? at - SIDE : at;
}

static inline uint32_t step_ahead(Herd *herd, uint32_t i, Luck *luck) {
  const double radians = 3.14159265358979324 / 180;
  double d = herd->direction[i] += unit(luck) * 100 - 50;
  herd->x[i] = around((int32_t)floor(herd->x[i] + sin(d * radians) + 0.5));
  herd->y[i] = around((int32_t)floor(herd->y[i] + cos(d * radians) + 0.5));
  herd->energy[i] -= 1;
  return herd->y[i] * SIDE + herd->x[i];
}

static inline void end_of_turn(Herd *herd, uint32_t i, Luck *luck, double chance) {
  if (herd->energy[i] < 0) {
    herd->gone[i] = 1;
    return;
  }
  if (word(luck) >= CHANCE(chance)) return;
  uint32_t at = herd->used++;
  if (at >= MOST) exit(1);
  herd->energy[i] /= 2;
  herd->x[at] = herd->x[i];
  herd->y[at] = herd->y[i];
  herd->direction[at] = unit(luck) * 360;
  herd->energy[at] = herd->energy[i];
  herd->gone[at] = 0;
}

static void turns(const Herd *herd, uint32_t *order, Luck *luck) {
  for (uint32_t i = 0; i < herd->used; i++) order[i] = i;
  if (herd->used) shuffle(luck, order, herd->used);
}

static Outcome births(uint32_t seed, uint32_t steps) {
  Luck luck = luck_of(seed);
  double *grass = NEW(double, CELLS), agent_steps = 0;
  for (uint32_t c = 0; c < CELLS; c++) grass[c] = unit(&luck);
  Herd grazers = herd_of(&luck, 10000, 4, 12), hunters = herd_of(&luck, 2000, 10, 30);
  int32_t *head = NEW(int32_t, CELLS), *next = NEW(int32_t, MOST);
  uint32_t *order = NEW(uint32_t, MOST);
  for (uint32_t step = 0; step < steps; step++) {
    agent_steps += grazers.used + hunters.used;
    uint32_t many = grazers.used;
    turns(&grazers, order, &luck);
    for (uint32_t turn = 0; turn < many; turn++) {
      uint32_t i = order[turn], cell = step_ahead(&grazers, i, &luck);
      if (grass[cell] >= 1) {
        grass[cell] = 0;
        grazers.energy[i] += 5;
      }
      end_of_turn(&grazers, i, &luck, 0.04);
    }
    close_up(&grazers);
    memset(head, -1, CELLS * sizeof(int32_t));
    for (uint32_t i = grazers.used; i-- > 0;) {
      uint32_t cell = grazers.y[i] * SIDE + grazers.x[i];
      next[i] = head[cell];
      head[cell] = i;
    }
    many = hunters.used;
    turns(&hunters, order, &luck);
    for (uint32_t turn = 0; turn < many; turn++) {
      uint32_t i = order[turn], cell = step_ahead(&hunters, i, &luck), here = 0;
      for (int32_t b = head[cell]; b >= 0; b = next[b]) here++;
      if (here) {
        int32_t *link = &head[cell];
        for (uint32_t k = below(&luck, here); k > 0; k--) link = &next[*link];
        grazers.gone[*link] = 1;
        *link = next[*link];
        hunters.energy[i] += 18;
      }
      end_of_turn(&hunters, i, &luck, 0.05);
    }
    close_up(&grazers);
    close_up(&hunters);
    for (uint32_t c = 0; c < CELLS; c++) {
      double grown = grass[c] + 0.03;
      grass[c] = grown > 1 ? 1 : grown;
    }
  }
  let_go(&grazers), let_go(&hunters);
  free(grass), free(head), free(next), free(order);
  return (Outcome){agent_steps, grazers.used};
}

MAIN(births(1, 500))
