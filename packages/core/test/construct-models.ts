/** Small models that use every construct which the generated models do not; each runs in both engines, whole and split. */

import { MAP_MODELS } from './map-models.ts';
import { VEHICLE_MODELS } from './vehicle-models.ts';
import { model } from './model-text.ts';
import { VALUE_MODELS } from './value-models.ts';

export const CONSTRUCT_MODELS: readonly (readonly [string, string])[] = [
  model(
    'Networks of all makers',
    `
space S: plane 30 by 30, wrapping
agent A
  start 40 anywhere
  has group = pick(Red, Blue)
  has heat = uniform(0, 1)
  derive degree = count A tied by Ring
  behaviour warm
    for each v in A tied by Small where it.heat < heat
      v.heat += 0.01
    if any ties by Ring
      heat = 0.9 * heat + 0.1 * (mean of it.strength over ties by Ring)
  behaviour meet
    with v = random A tied by Prefer
      tie to v by Made
        weight = heat
      with t = tie to v by Made
        t.weight += 0.5
    if chance(0.2)
      untie from random A tied by Made by Made
    if chance(0.05)
      untie by Made
    if chance(0.05)
      remove self
    with w = random A tied by Ring
      join w by Made
  behaviour look
    for each t in ties by Ring
      t.strength *= 1.01
      if t.other.heat > heat
        t.strength += 0.1
agent B
  start 15 anywhere
  has seen = 0
  behaviour visit
    seen = count A tied by Owns
    for each t in ties by Owns
      t.age += 1
network Ring ties A to A: ring, 4 neighbours
  has strength = uniform(0, 1)
network Small ties A to A: small world, 4 neighbours, rewired 20 %
network Prefer ties A to A: preferential, 2 ties each
network Blocks ties A to A: blocks by group, 30 % inside, 5 % across
network Near ties A to A: near one another within 5
network Groups ties A to A: groups of 5 where it.heat > 0.3
network Loose ties A to A, directed: random, mean degree 3
network Lattice ties A to A: lattice
network Made ties A to A: none
  has weight = 0
network Owns ties B to A: random, mean degree 3
  has age = 0
order
  warm in turn
  meet in turn
  look in turn
  visit all at once
measure a = count A
measure made = count ties by Made
measure ring = mean of it.strength over ties by Ring
measure blocks = count ties by Blocks
measure near = count ties by Near
measure parts = components of Groups
measure largest = largest component of Groups
measure ways = mean path of Groups
measure across = diameter of Groups
measure near_all = efficiency of Groups
measure closed = clustering of Small
measure fans = sum of it.degree over A
measure aged = max of it.age over ties by Owns
measure out = mean of (count A tied by Loose to it) over A
`,
  ),
  model(
    'Ties all at once',
    `
agent A
  start 30
  has e = uniform(0, 1)
  has best: A = nobody
  behaviour go
    best = A tied by N with most it.e
    if best is not nobody and best.e > e
      e += 0.1 * best.e
    with v = random A
      tie to v by N
        weight = e
    with w = first A tied by N
      untie from w by N
    for each t in ties by N
      t.weight += 0.125
  behaviour drop
    if chance(0.1) and count A tied by N > 3
      untie by N
network N ties A to A: ring, 2 neighbours
  has weight = 1
order
  go all at once
  drop in turn
measure n = count ties by N
measure w = sum of it.weight over ties by N
measure e = sum of it.e over A
`,
  ),
  model(
    'Interactions of all forms',
    `
space S: grid 14 by 11, 8 neighbours, wrapping
agent A
  start 30 anywhere
  has e = uniform(0, 1)
  has met = 0
  states life
    start 5 of Ill, rest Well
    Well
    Ill
      after 4 steps: Well
  behaviour roam
    move to random cell next to here
interaction mix: a A, b A
  mixing 2.5: 60 % tied by N, rest anyone
  where a.life is Ill and b.life is Well
  chance 0.4
  b.life = Ill
  b.met += 1
interaction trade: a A, b A
  tied by N, each pair once
  where tie.weight > 0.2
  tie.weight *= 0.95
  a.e = (a.e + b.e) / 2
interaction strong: a A, b A
  within 3 with most it.e
  b.e *= 0.99
interaction three: a A, b A
  random 3 within 4
  b.met += 1
interaction square: a A, b A
  in a square of 2
  rate 0.1 per step
  b.e += 0.01
interaction all_of_them: a A, b B
  anyone
  chance 2 %
  remove b
interaction atonce: a A, b A
  next to
  where a.life is Ill
  chance 0.3
  b.life = Ill
agent B
  start 12 one to a cell
  has k = 1
network N ties A to A: random, mean degree 4
  has weight = uniform(0, 1)
order
  roam in turn
  mix in turn
  trade in turn
  strong in turn
  three in fixed order
  square in turn
  all_of_them in turn
  atonce all at once
  life all at once
measure ill = count A where it.life is Ill
measure new = entered Ill
measure met = sum of it.met over A
measure e = sum of it.e over A
measure b = count B
measure weight = mean of it.weight over ties by N
`,
  ),
  model(
    'Messages',
    `
space S: plane 40 by 40, walled
message Alarm
  has level = 1
  has from: A = nobody
message Rest
agent A
  start 50 anywhere
  has heard = 0
  has last_level = 0
  has caller: A = nobody
  on Alarm as call when call.level > 0.2
    heard += 1
    last_level = call.level
    caller = call.sender
    if call.level > 0.7
      send Alarm(level = call.level * 0.6, from = self) to all A tied by T
  states mood
    Calm
      on Alarm as call when call.level > 0.3 chance 70 %: Afraid
        heard += 10
      on Rest: 50 % Sleepy, rest Calm
    Afraid
      enter
        send Rest to nearest A within 10 after 2 steps
      after 3 steps: Calm
      on Rest: Sleepy
    Sleepy
      after 2 steps: Calm
  behaviour shout every 5 steps
    if chance(0.1)
      send Alarm(level = uniform(0.5, 1)) to all A within 8
    if caller is not nobody and chance(0.05)
      remove caller
network T ties A to A: near one another within 7
order
  shout in turn
  mood in turn
timeline
  at 3 steps: send Alarm(level = 2) to random A
  at 9 steps: send Rest to all A where it.heard > 2
measure heard = sum of it.heard over A
measure afraid = count A where it.mood is Afraid
measure a = count A
measure level = sum of it.last_level over A
`,
  ),
  model(
    'States inside states',
    `
agent A
  start 60
  has e = uniform(0, 1)
  has log_ = 0
  derive waited = time in life
  states life
    start Old when e > 0.9, 30 % Young, rest Grown
    Alive
      start 40 % Old, rest Young
      enter
        log_ += 100
      leave
        log_ += 1000
      after gamma(mean = 9 steps, shape = 3): Gone
      rate 0.02 per step: Gone
      Young
        after 3 steps: Old
          log_ += 1
      Old
        leave
          log_ += 10
        chance 0.1: Young
      Inner
        Grown
          when e > 0.5: Alive
        Small
          after 2 steps: Grown
    Gone
      after 2 steps: 50 % Alive, rest Inner
  behaviour set
    if chance(0.05)
      life = Alive
    if chance(0.02)
      life = Small
    if life is Alive and waited > 4 steps
      e *= 0.97
order
  set in turn
  life in turn
measure alive = count A where it.life is Alive
measure inner = count A where it.life is one of Inner, Gone
measure came = entered Alive
measure went = left Alive
measure log = sum of it.log_ over A
measure e = sum of it.e over A
measure t = sum of it.waited over A
`,
  ),
  model(
    'Cells',
    `
space S: grid 16 by 12, 8 neighbours, walled
field grass on S
  start uniform(0, 1)
  grow 0.1 * (1 - grass)
field land on S
  start pick(70 % Dry, rest Wet)
field lit on S
  start chance(0.3)
  becomes yes when (count cells next to here where (lit at it)) is 3
  becomes no when (count cells next to here where (lit at it)) < 2 or (count cells next to here where (lit at it)) > 3
zone Home on S
  box (2, 2) to (6, 5)
  circle 2 around (12, 8)
obstacle Wall on S
  line (8, 0) to (8, 7)
  cells (3, 9), (4, 9)
agent A
  start 25 in zone Home
  start 5 on cells where grass at it > 0.8
  start on every cell where it is in zone Home and (grass at it) > 0.9
  has home = here
  has trail: last 3 places
  has food: last 4 numbers
  has n = 0
  derive inside = if here is in zone Home then 1 else 0
  behaviour graze
    with c = cells within 3 with most grass at it
      turn to c
      move to c
    add grass to food
    grass *= 0.5
    add here to trail
    n = count cells within 2.5 where (land at it) is Wet
    if chance(0.3)
      land = Wet
  behaviour step_
    with c = random empty cell within 4
      if n > 2
        move to c
    with d = random empty cell where (grass at it) > 0.5
      n += distance(d)
    if chance(0.2)
      move by 3
    for each c in empty cells in a cross of 2
      grass at c += 0.01
    if chance(0.1)
      move to home
    with p = first trail
      n += distance(p)
    n += mean of it over food + count trail + (max of (grass at it) over cells in a square of 1)
  behaviour breed
    if chance(0.05)
      create 1 A next to here
    if chance(0.05)
      create 1 A on cells where (lit at it)
    if chance(0.1)
      remove self
order
  graze in turn
  step_ in turn
  breed in turn
  grass
  lit
measure a = count A
measure g = mean of grass
measure wet = count cells where (land at it) is Wet
measure lights = count cells where (lit at it)
measure in_home = count A in zone Home
measure inside = sum of it.inside over A
measure n = sum of it.n over A
`,
  ),
  model(
    'One agent a cell, all at once',
    `
space S: grid 9 by 9, 4 neighbours, wrapping, one agent a cell
agent A
  start 40 one to a cell
  has wish = 0
  behaviour go
    with c = random empty cell next to here
      move to c
      wish += 1
  behaviour born
    if chance(0.05)
      create 1 A next to here
    if chance(0.04)
      remove self
agent B
  start 10 anywhere
  behaviour jump
    with c = random empty cell within 3
      move to c
order
  go all at once
  born all at once
  jump all at once
measure a = count A
measure w = sum of it.wish over A
`,
  ),
  model(
    'Hexagons',
    `
space S: grid 12 by 10, 6 neighbours, wrapping
field smell on S
  start uniform(0, 1)
  spread 30 %
  fade 0.05
agent A
  start 30 anywhere
  has near_by = 0
  behaviour walk
    with c = cells next to here with most smell at it
      turn to c
      move to c
    smell += 0.2
    near_by = count A next to here + (count A within 2) + (count cells within 2)
    if chance(0.2)
      turn by 60 deg
      move by 2
  behaviour look
    smell at ahead(1) += 0.1
order
  walk in turn
  look all at once
  smell
measure s = sum of smell
measure n = sum of it.near_by over A
`,
  ),
  model(
    'Tallies, formulas, routines',
    `
parameter scale = 2, from 0 to 5
variable price = 1
tally deals
tally ever_, kept
define share_of(x, y) = if y > 0 then x / y else 0
define twice(x) = share_of(x, 1) * 2 + energy
agent A
  start 30
  has energy = uniform(0, 2)
  has partner: A = nobody
  define hunger(limit) = max(0, limit - energy)
  routine feed(amount)
    energy += amount
    if amount > 0.4
      add amount to deals
  routine meet(v)
    v.energy += 0.01
    do feed(hunger(1.5))
  behaviour live
    energy -= 0.1 + 0.01 * twice(price)
    with v = random A weighted by it.energy
      partner = v
      do meet(v)
    let bid = 0.1
    repeat at most 10 times
      bid += uniform(0, 0.2)
      until bid > 0.5
    add bid to deals
    add 1 to ever_
    if partner is nobody or partner.energy < 0.2
      partner = nobody
    if partner is not nobody and partner.partner is self
      energy += 0.05
    let closest = A where it.energy < energy with most it.energy
    if closest is not nobody
      energy -= 0.001 * closest.energy
    if energy < 0
      remove self
  behaviour gossip
    add energy to deals
    log energy, "hello"
behaviour market every 2 steps
  price = if count deals > 0 then geometric mean of deals else price
  if price > 0.7
    create 2 A
  for each a in A where it.energy > 1.5
    a.energy *= 0.9
order
  live in turn
  gossip all at once
  market
record A: energy, partner every 5 steps
measure a = count A
measure n = count deals
measure d = mean of deals
measure ever_n = count ever_
measure p = price
measure recent = mean of n over last 3 steps
summary top = max of a
chart Both: a, a / 2 + n
`,
  ),
  model(
    'Nowhere and lists of friends',
    `
space S: plane 20 by 20, reflecting, cells of 2
zone Pond on S
  circle 4 around (10, 10)
obstacle Fence on S
  line (0, 5) to (14, 5) to (14, 12)
agent A
  start 30 anywhere
  start 5 nowhere
  has friends: last 3 A
  has leader: A = nobody
  has out = 0
  has away = no
  behaviour go
    turn by uniform(-60 deg, 60 deg)
    move by 2
  behaviour mind
    with v = nearest A within 5 where it is not one of friends
      add v to friends
      leader = v
    out = count friends + count A + count A within 6
    for each f in friends
      f.out += 0.5
    with f = random friends
      turn to f
    if any friends where it.away
      away = no
    if leader is not nobody and chance(0.1)
      leader.away = yes
    if away
      move to nowhere
    else
      move to somewhere
    if chance(0.05)
      remove self
  behaviour back
    if place is nowhere and chance(0.3)
      move to somewhere in zone Pond
    if here is in zone Pond
      out += 100
    with c = random cells within 4
      out += distance(c)
  behaviour flock
    if (count A within 6) > 0
      let middle = mean of it.place over A within 6
      turn by 0.3 * swing(direction, mean of it.direction over A within 6)
      move toward middle by 0.5
interaction hug: a A, b A
  anyone
  chance 5 %
  b.out += 1
order
  go in turn
  mind in turn
  back in turn
  flock all at once
  hug in turn
measure a = count A
measure o = sum of it.out over A
measure away = count A where it.place is nowhere
measure pond = count A in zone Pond
`,
  ),
  model(
    'Adding all at once',
    `
space S: plane 25 by 25, wrapping
field trail on S, cells of 1
  start 0.1
  spread 20 %
  fade 10 %
  keep 0 to 3
agent A
  start 60 anywhere
  has e = 1
  has hits = 0
  behaviour follow
    let left_ = trail at ahead(2, -35 deg)
    let right_ = trail at ahead(2, 35 deg)
    if left_ > right_
      turn by -40 deg
    else
      turn by 40 deg
    move by 1
    trail += 0.4
  behaviour give
    for each v in A within 2
      v.e += 0.1 * e
      v.hits += 1
    e += -0.1
  behaviour scale
    with v = nearest A
      v.e *= 0.9
      v.hits = 7
    e = e + 0.05
interaction catch: a A, b A
  within 1.5
  b.e += 0.2
  a.hits += 1
order
  follow all at once
  give all at once
  scale all at once
  catch all at once
  trail
measure t = sum of trail
measure e = sum of it.e over A
measure h = sum of it.hits over A
`,
  ),
  model(
    'Units of its own and days',
    `
unit seed
unit sack = 40 seed
clock
  step 6 h from 2031-03-01
  end after 12 days
parameter price = 2 sack, from 0 to 9
space S: plane 100 m by 50 m, walled
agent A on S
  start 20 within 10 m of (50 m, 25 m), facing (0 m, 0 m)
  has store = 3 sack
  has speed = 1 km per day
  behaviour eat
    store -= 2 seed
    move by speed * step
    if store < 1 sack and hour >= 6
      remove self
timeline
  every day at 07:30: price = 1 sack
  every monday at 12:00: price = 3 sack
  from 3 days to 5 days: price = 80 seed
  every 3 days
    create 1 A anywhere
      store = price
order
  eat in turn
measure a = count A
measure s = sum of it.store over A
measure p = price
`,
  ),
  model(
    'Looking round in a fixed order, in an order that cannot be seen, and at once',
    `
space S: plane 20 by 20, wrapping
agent A
  start 60 anywhere
  has e = uniform(0, 1)
  has near = 0
  states mood
    start 20 of Loud, rest Calm
    Calm
    Loud
  behaviour hush
    if (count A within 4 where it.mood is Loud) > 2
      mood = Calm
    else if chance(0.3)
      mood = Loud
    e = 0.5 * e + 0.1 * (sum of it.e over A within 4)
  behaviour look
    near = count A within 3 where it.e > 0.5
  behaviour roam
    turn by normal(0 deg, 60 deg)
    move by 1
    near += count A within 5
order
  hush in fixed order
  look in turn
  roam all at once
measure loud = count A where it.mood is Loud
measure e = sum of it.e over A
measure near = sum of it.near over A
`,
  ),
  model(
    'Several spaces',
    `
space Meadow: plane 20 m by 15 m, wrapping, cells of 2 m
space Yard: grid 9 by 7, 4 neighbours, walled, one agent a cell
space Comb: grid 8 by 6, 6 neighbours, wrapping
space Pen: plane 12 m by 12 m, reflecting
obstacle Wall on Pen
  line (2 m, 6 m) to (9 m, 6 m)
obstacle Shed on Yard
  box (2, 2) to (3, 3)
zone Corner on Meadow
  box (0 m, 0 m) to (6 m, 6 m)
field grass on Meadow, cells of 1 m
  start uniform(0, 1)
  grow 0.1 * (1 - grass)
  spread 5 %
field light on Comb
  start 0
  becomes 1 when (count cells next to here where light at it > 0) > 1
  becomes 0.5 * light
field dust on Pen
  start 1
  fade 1 %
agent Vole on Meadow
  start 30 anywhere
  start 2 in zone Corner
  has food = 0
  has home = here
  has den: Bee = nobody
  has paces: last 4 places
  behaviour graze
    turn by uniform(-60, 60) deg
    move by 1 m
    let bite = 0.5 * grass
    grass -= bite
    food += bite
    add place to paces
    if chance(0.2)
      turn to home
    if chance(0.1)
      move to random cell within 3 m where grass at it > 0.3
    den = random Bee tied by Paths
    if food > 3 and count Vole < 60
      food -= 2
      create 1 Vole within 2 m of here
      create 1 Hen one to a cell
      create 1 Bee on cells where light at it >= 0
agent Hen on Yard
  start 12 one to a cell
  has luck = 0
  behaviour peck
    move to random empty cell next to here
    luck = count empty cells within 2
    if count Hen next to here > 2
      dust at (3 m, 4 m) += 1
agent Bee on Comb
  start 10 anywhere
  has seen = 0
  behaviour dance
    turn by pick(60, -60, 0) deg
    move by 1
    light += 1
    seen = (count Bee within 2) + distance(somewhere)
agent Dog on Pen
  start 8 anywhere
  has crowd = 0
  behaviour run
    turn by uniform(-40, 40) deg
    move by 1.5 m
    crowd = count Dog within 3 m
    with v = random Vole within 4 m of (5 m, 5 m)
      v.food *= 0.9
      crowd += distance(v.place, (1 m, 1 m)) / 1 m
    crowd += 0.01 * (count Vole in zone Corner) + (if any Vole where it.place is in zone Corner then 0.1 else 0.2)
network Paths ties Vole to Bee: random, mean degree 2
interaction wake: d Dog, h Hen
  random anyone
  chance 0.3
  h.luck += 1
  d.crowd -= 1
order
  grass, light, dust
  graze in turn
  peck all at once
  dance in turn
  run all at once
  wake in turn
measure voles = count Vole
measure hens = mean of it.luck over Hen
measure free = count empty cells on Yard
measure lit = count cells on Comb where light at it > 0.5
measure mid = (mean of distance(it.place, (0 m, 0 m)) over Dog) / 1 m
measure bees = sum of it.seen over Bee`,
  ),
  model(
    'Turns shared with those who multiply',
    `
space S: grid 9 by 17, 8 neighbours, wrapping
agent Vole
  start 50 anywhere
  states mood
    Quiet
    Out
    Held
  behaviour go
    if (count Vole) < 300 and any Vole within 3 where it.mood is not Quiet
      create 1 Vole here
    if chance(0.2)
      mood = Out
    if chance(0.1)
      remove self
agent Owl
  start 12 anywhere
  behaviour watch
    with v = random Vole within 3 where it.mood is Out
      v.mood = Held
order
  Vole.go, Owl.watch in turn
measure voles = count Vole
measure held = count Vole where it.mood is Held`,
  ),
  ...MAP_MODELS,
  ...VEHICLE_MODELS,
  ...VALUE_MODELS,
];
