import { model } from './model-text.ts';

/** Models in which agents, places, ties, items of lists and luck of every law are values: given, chosen, compared, handed on. */
export const VALUE_MODELS: readonly (readonly [string, string])[] = [
  model(
    'What is written without thinking',
    `
clock
  step 30 minutes from 2031-05-16
  end after 60 steps
space Field: plane 60 m by 40 m, wrapping
field smear on Field, cells of 5 m
  start 1
agent Post
  start 4 anywhere
agent Vole
  start 12 anywhere
  has nest: Post = nobody
  has tries = 0
  states spot
    Near
      rate 2 per day: Over
    Over
      rate 1 per day: From
    From
      rate 1 per day: Near
  behaviour roam
    if hour >= 07:30 and hour < 19:00
      turn by uniform(-40, 40) deg
      move by 1 m
      smear += 1
    else
      move toward nest by 2 m
    if chance(0.05)
      nest = random Post
    turn to nest
  behaviour push when weekday is one of Saturday, Sunday
    with v = nearest Post within 20 m
      move v toward self by 0.5 m
      turn v by 10 deg
      if chance(0.02)
        move v to nowhere
    move nest to somewhere
    repeat at most 4 times
      tries += 1
      if tries > 20
        until chance(0.5)
    if chance(0.01)
      remove nest
behaviour clean when hour is 12:00
  smear *= 0.5
timeline
  at 20 h: smear = 2
order
  roam in turn
  push in turn
  spot in turn
  clean
measure smeared = sum of smear
measure near = count Vole where it.spot is Near
measure over_ = count Vole where it.spot is Over
measure tries = sum of it.tries over Vole
measure posts = count Post where it.place is not nowhere
measure facing = sum of it.direction over Post
summary high = share of steps where near > 3
summary often = times near > 3 becomes true
summary late = time of max of smeared in days
`,
  ),
  model(
    'Shared values and bounds of cells',
    `
clock
  step 1 day
  end after 60 days
parameter least = 0.2, from 0 to 1
space Field: grid 12 by 9, wrapping
field ceiling on Field
  start uniform(0.2, 1)
  grow uniform_drift
  keep least to 1
field grass on Field
  start 2
  grow 0.1 per day
  spread 5 %
  keep 0 to ceiling
field dung on Field
  start 0
  fade 10 %
  keep -ceiling to (max of ceiling at it over cells next to here)
field trail on Field
  start 0
  becomes trail + 1 when grass > 0.5
  keep 0 to x + y
derive mood = mean of it.energy over Vole
derive crowded = count Vole > 8
derive uniform_drift = 0.02 * (0.5 - least)
derive middle = mean of it.place over Vole
define fair(asked) = asked * (2 - number / 50) + mood
agent Vole
  start 12 anywhere
  has energy = 1
  has friend: Vole = nobody
  define gain(effort, cost) = effort * energy - cost * distance(middle)
  behaviour graze
    move to random cell next to here
    grass -= 0.3
    dung += energy
    dung at (0, 0) *= 0.9
    energy += if crowded then -0.05 else 0.1
  behaviour deal
    with v = nearest Vole within 4
      if v.gain(2, 0.1) > gain(2, cost = 0.1) + 0.1 * (v.fair(1) - fair(1))
        friend = v
        energy -= 0.01
    if friend is not nobody and friend.gain(1, 0) < mood
      energy += 0.02
    if friend is not nobody and friend.friend is not nobody and friend.friend.gain(1, 0) < mood
      energy += 0.01
  behaviour soil
    with v = random Vole within 3
      dung at v += 0.5
      grass at v = 5 * mood
    dung -= 2 * energy
  behaviour breed every 5 days
    if energy > 1.2 and count Vole < 40
      create 1 Vole here
      energy -= 0.4
behaviour rain every 7 days
  grass += 0.5
order
  graze in turn
  deal in turn
  soil all at once
  breed in turn
  rain
  ceiling, grass, dung, trail
measure mood_ = mood
measure voles = count Vole
measure welfare = sum of it.gain(1, 0.5) over Vole
measure grass_ = sum of grass
measure dung_ = sum of dung
measure trail_ = sum of trail
measure friends = count Vole where it.friend is not nobody
`,
  ),
  model(
    'Weather from tables',
    `
clock
  step 6 h from 2031-05-16
  end after 12 days
data "weather.csv"
  date,wet days,sky
  2031-05-10,4,clear
  2031-05-17,12.5,dull
  2031-05-18 12:00,NA,storm
  2031-05-20,3,clear
  2031-05-27,1,dull
data "price.csv"
  day;price
  0;2
  3.25;4
  9;1
data "hens.csv"
  x,y,coat,Life,weight
  1,2,brown,Chick,2
  5, 5, Grey ,Hen,3
data "kin.csv"
  from,to,strength
  1,2,0.5
unit sack
variable rain from "weather.csv", column "wet days" in mm   "in a day"
variable sky from "weather.csv" of clear, dull, storm
variable price from "price.csv" in sack
space Field: plane 20 m by 20 m, wrapping
agent Vole
  start 10 anywhere
  has wet = 0 mm
  has store = 1 sack
  behaviour shelter
    wet += rain * 0.1
    if sky is storm
      turn by uniform(-90, 90) deg
      move by 1 m
    else
      move by rain * 100
    if any Hen within 8 m where it.coat is grey and it.life is Hen and it.weight > 2
      turn by 10 deg
    store += (if price > 2 sack then price * 0.1 else 0 sack) * uniform(0, 1)
agent Hen
  start from "hens.csv"
  has coat = brown of brown, grey
  has weight = 1
  states life
    Chick
      after 3 days: Hen
    Hen
  behaviour gain
    for each t in ties by Kin
      weight += t.strength * rain / 1 mm
network Kin ties Hen to Hen: from "kin.csv"
  has strength = 0
order
  shelter in turn
  gain in turn
  life in turn
measure heavy = sum of it.weight over Hen
measure rain_ = rain
measure price_ = price
measure storms = if sky is storm then 1 else 0
measure wet = mean of it.wet over Vole
measure store = mean of it.store over Vole
`,
  ),
  model(
    'Records of meetings that are over, and of fields',
    `
clock
  step 1 day
  end after 30 days
space Field: grid 6 by 5, wrapping
field grass on Field
  start uniform(0, 1)
  grow 0.05 per day
field ground on Field
  start pick(bare, mossy)
agent Vole
  start 14 anywhere
  has purse = 10
  has grain = number
  behaviour walk
    move to random cell next to here
    grass -= 0.02
interaction barter: a Vole, b Vole
  within 1
  where a.grain > 0 and a is not b
  let price = 1 + uniform(0, 1) * b.purse / 10
  let amount = min(a.grain, 2)
  let dealt = b.purse > price * amount
  if dealt
    b.purse -= price * amount
    a.purse += price * amount
    a.grain -= amount
    b.grain += amount
  if b.grain > 20
    remove b
interaction swap: one Vole, other Vole
  nearest within 2
  let half = (one.grain + other.grain) / 2
  one.grain = half
  other.grain = half
record barter: price, amount, b.purse, dealt when dealt or price > 1.8
record barter: b.purse every 3 days
record swap: half, one
record Vole: purse, grain every 2 days when purse > 9
record Vole
record grass every 10 days
record ground every 15 days
order
  walk in turn
  barter in turn
  swap all at once
measure voles = count Vole
measure purses = sum of it.purse over Vole
`,
  ),
  model(
    'Ground in words',
    `
clock
  end after 40 steps
space Moor: grid 12 by 9, wrapping
field ground on Moor
  start if x < 3 then bare else pick(20 % bare, rest heather)
  becomes burning when ground is heather and any cells next to here where ground at it is burning
  becomes ash when ground is burning
  becomes bare when ground is ash and chance(0.2)
field wet on Moor
  start dry of dry, damp, soaked
  becomes damp when wet is dry and chance(0.02)
  becomes dry when wet is damp and chance(0.1)
field shade on Moor
  start chance(0.3)
agent Vole
  start 9 anywhere
  states mood
    Calm
      chance 0.1: Wild
    Wild
      chance 0.3: Calm
  behaviour roam
    move to random cell next to here
    if ground is bare
      ground = heather
    else
      if chance(0.05) and wet is not one of damp, soaked
        ground at here = burning
    if ground is one of ash, burning
      with c = random cell next to here
        wet at c = soaked
    if mood is Wild and ground is bare
      ground = trodden
order
  roam in turn
  mood in turn
  ground, wet
measure bare_ = count cells where ground at it is bare
measure burning_ = share of cells where ground at it is burning
measure trodden_ = count cells where ground at it is trodden
measure damp_ = count cells where wet at it is not dry
show ground: bare straw, Heather moss, burning russet
show wet: soaked slate
show shade: yes stone
show Vole: leaf, colour by mood, Wild plum
`,
  ),
  model(
    'Measures by group',
    `
clock
  step 1 day
  end after 40 days
space Field: plane 20 m by 20 m, wrapping
agent Vole
  start 25 anywhere
  has coat = pick(brown, grey)
  has lame = chance(0.3)
  has weight = normal(40, 4)
  derive heavy = weight > 41
  has sort = small of small, large
  states life
    Young
      after 10 days: Grown
    Grown
      rate 0.05 per day: Old
    Old
      rate 0.2 per day: Young
  behaviour roam
    turn by uniform(-30, 30) deg
    move by 1 m
    weight += normal(0, 0.2)
    sort = if weight > 41 then large else small
order
  roam in turn
  life in turn
measure voles by life = count Vole
measure Weight by coat = mean of it.weight over Vole where it.life is not Old
measure lame_share by sort = 100 * (share of Vole where it.lame) + 0
measure fast in hours by lame = (sum of it.weight over Vole) * 1 h
measure crowd by heavy = count Vole where (count Vole within 3 m of it) > 1
measure sum_ = voles.Young + voles.Grown + voles.Old
measure whole = count Vole
summary most = max of voles.grown
summary late = time of max of Weight.grey
chart Lives: voles
chart Spread: distribution of (it.weight / 1000) over Vole where it.life is Young and it.weight > 38
chart Phase: voles.Young, voles.Grown / 2 against sum_
chart Coats: weight.brown, Weight.grey, voles.Old / 2
`,
  ),
  model(
    'Agents as values',
    `
space S: plane 20 by 20, wrapping
zone Pond on S
  circle 6 around (10, 10)
message Tell
  has about: A = nobody
define closer(one, other) = if distance(one.place) < distance(other.place) then one else other
define pal(one) = one.friend
network Web ties A to A: random, mean degree 2
network Keeps ties B to A: random, mean degree 1
agent A
  start 30 anywhere
  has friend: A = nobody
  has second: A = nobody
  has worth = 0
  derive guide = friend
  derive nearby = if worth > 5 then friend else second
  on Tell as t
    second = t.about
    if t.about is friend
      worth += 1
    if t.sender is nobody
      worth += 100
  behaviour choose
    turn by uniform(-30 deg, 30 deg)
    move by 1
    friend = if chance(0.5) then nearest A within 5 else random A within 8
    if friend is not nobody and second is not nobody
      second = closer(friend, second)
    if friend is nobody
      second = nobody
    if guide is not nobody
      worth += guide.worth / 100 + 1
    with n = nearby
      worth += 0.1
      send Tell(about = n) to friend
    if pal(self) is second
      worth += 0.001
    second = (second)
  behaviour bound
    worth += count A within 6 tied by Web
    worth += count A within 6 in zone Pond
    worth += count A tied by Web within 6
    with v = nearest A within 9 tied by Web
      worth += 0.5
    with b = random B tied by Keeps
      b.kept += 1
    if friend is one of second, nobody
      worth += 2
    if self is one of A within 2 of (10, 10)
      worth += 3
agent B
  start 10 anywhere
  has kept = 0
  behaviour keep
    for each a in A tied by Keeps
      kept += a.worth / 1000
    kept += count ties by Keeps
measure worth = sum of it.worth over A
measure alone = count A where it.friend is nobody
measure pairs = count A where it.second is it.friend
measure kept = sum of it.kept over B
`,
  ),
  model(
    'Places as values',
    `
space S: plane 20 by 20, reflecting, cells of 2
obstacle Rock on S
  box (4, 4) to (8, 8)
zone Pond on S
  circle 5 around (14, 14)
field depth on S, cells of 2
  start if chance(0.3) then 2 else 1
  becomes depth + 0.1 when depth < 3
define middle(one, other) = if one.x < other.x then one else other
agent A
  start 12 anywhere
  has home = (3, 3)
  has best = nowhere
  has seen: last 4 places
  has gone = 0
  derive den = if gone > 3 then home else (17, 17)
  derive spot = home
  behaviour go
    add here to seen
    home = random cell within 4
    best = nearest cells within 6 where depth at it > 1
    move toward middle(home, den) by 1
    if best is not nowhere
      gone += distance(best) + depth at best
    let where_to = if chance(0.5) then home else random seen
    gone += distance(where_to, den)
    gone += bearing(where_to) / 360 deg
    turn to if chance(0.5) then home else (1, 1)
    move to ahead(1, 10 deg)
    if home is here
      gone += 1000
    if best is nowhere
      gone += 500
  behaviour look
    gone += spot.x + den.y
    with c = nearest cells within 5 in zone Pond
      gone += c.x / 100
    with c = random cells in zone Pond
      gone += depth at c
    with m = cells within 3 with most depth at it
      gone += m.y / 100
    with s = random seen
      gone += s.x / 1000
    if any cells within 3 where it is in zone Pond
      gone += 1
    gone += count cells within 3 where it is one of home, best
measure gone = sum of it.gone over A
measure lost = count A where it.best is nowhere
`,
  ),
  model(
    'Ties as values',
    `
agent A
  start 14
  has drawn = 0
  behaviour go
    with v = random A where it is not self
      with t = tie to v by Bond
        t.strength += 1
        drawn += t.strength
      else
        tie to v by Bond
          strength = 0.5
    with t = random ties by Bond
      drawn += t.strength / 10
      if t is not nobody
        t.other.drawn += 1
    with t = ties by Bond with most it.strength
      drawn += t.strength
      if t is tie to t.other by Bond
        drawn += 1000
    with v = random A where it is not self
      if (tie to v by Bond) is nobody
        drawn += 0.01
    for each t in ties by Bond
      t.strength = t.strength * 0.99
network Bond ties A to A: none
  has strength = 0
measure drawn = sum of it.drawn over A
measure ties = count ties by Bond
measure strength = mean of it.strength over ties by Bond
`,
  ),
  model(
    'Numbers out of lists and tallies',
    `
clock
  step 6 h from 2031-05-01
  end after 8 days
tally deals
parameter late = no
agent A
  start 8
  has prices: last 5 numbers
  has gain = 0
  has mood = calm of calm, wild
  behaviour trade
    add uniform(1, 2) to prices
    add number / 2 to deals
    gain += random prices
    if 1.5 is one of prices
      gain += 50
    if number / 2 is one of prices
      gain += 0.25
    if mood is one of calm, wild
      mood = pick(30 % wild, rest calm)
    if date is 2031-05-03
      gain += 10
    if hour >= 12:00 / 1 h
      gain += 0.5
    if day of year > 122
      gain += 0.125
    if now > 2 days and hour < 7
      gain += random deals
    log number, gain, mood, self, late, "a note"
measure gain = sum of it.gain over A
measure wild = share of A where it.mood is wild
measure best = max of deals
`,
  ),
  model(
    'Nearest on hexagons and grids',
    `
space S: grid 12 by 10, 6 neighbours, wrapping
field food on S
  start uniform(0, 1)
  grow 0.02
agent A
  start 15 anywhere
  has found = 0
  has gap = 0
  behaviour go
    with v = nearest A within 4
      gap += distance(v.place)
      turn to v
    with c = nearest cells within 3 where food at it > 0.9
      found += 1
      move toward c by 1
    with c = nearest empty cell within 2
      found += 0.01
    move by 1
    move to ahead(2, 60 deg)
    food = food / 2
    found += bearing((0, 0)) / 360 deg
measure found = sum of it.found over A
measure gap = sum of it.gap over A
measure left = mean of food
`,
  ),
  model(
    'All laws of luck',
    `
agent A
  start 6
  has a = normal(2, 0.5)
  has b = lognormal(1, 0.2)
  has c = exponential(3)
  has d = gamma(2, 1)
  has e = beta(2, 3)
  has f = weibull(1.5, 2)
  has g = triangular(0, 1, 3)
  has h = poisson(4)
  has i = binomial(9, 0.3)
  has j = whole(1, 6)
  has sum_ = 0
  behaviour draw
    sum_ += normal(a, 1) + lognormal(b, 0.3) + exponential(c) + gamma(d + 1, 1) + beta(1 + e, 2) + weibull(f + 1, 1) + triangular(0, g, 9) + poisson(h) + binomial(i, 0.5) + j
measure s = sum of it.sum_ over A
measure t = sum of (it.a + it.b + it.c + it.d + it.e + it.f + it.g + it.h + it.i + it.j) over A
`,
  ),
  model(
    'Fields in single precision',
    `
space S: grid 14 by 11, 8 neighbours, walled
space Comb: grid 8 by 6, 6 neighbours, wrapping
space Field: plane 21 by 13, wrapping
field grass on S, single precision
  start uniform(0, 1)
  grow 0.1 * (1 - grass) + 0.01 * heat
  spread 17 %
  fade 3 %
  keep 0.1 to 0.9
field heat on S
  start 1 / 3
  grow 0.1 * grass
  keep 0 to 7
field dew on S, single precision
  start uniform(0, 1) / 7
  spread 1 / 3
  becomes 1 / 3 when dew < 0.05 and chance(0.3)
  becomes dew + grass / 9 when (count cells next to here where dew at it > 0.07) > 4
  keep 0 to 0.7
field cap on S, single precision
  start 0.3
  grow 0.001
field kept on S, single precision
  start 0.1
  grow 0.07
  keep 0 to cap
field wax on Comb, single precision
  start uniform(0, 1)
  spread 20 %
  fade 1 / 30
  keep 0.2 to 0.7
field tread on Field, cells of 1.5, single precision
  start 0.1
  fade 1 / 11
  keep 0 to 50
field last on Field, single precision, cells of 2
  start 0.1
field told on Field, cells of 2, single precision
  start 0.2
agent Vole on Field
  start 60 anywhere
  has food = 0
  behaviour walk
    turn by uniform(-60, 60) deg
    move by 1
    tread += 0.3
    if tread at ahead(2) > 0.4
      turn by 45 deg
    food = tread / 3
  behaviour all_tread
    tread += 0.1
    told *= 1.1
    told += 0.1 * food
    last = food / 7
agent Bee on Comb
  start 20 anywhere
  behaviour fly
    move to random cell within 2
    wax += 0.1
    wax *= 1.01
agent Hen on S
  start 20 anywhere
  behaviour peck
    move to random cell within 2 where (grass at it) > 0.15
    grass *= 0.7
    dew = dew + 0.01
    kept += 0.5
order
  walk in turn
  all_tread all at once
  fly in fixed order
  peck in turn
  grass, heat, dew
  cap, kept
  wax
  tread, last
measure g = sum of grass
measure d = median of dew
measure w = sd of wax
measure t = quantile 0.9 of tread
measure k = max of kept
measure l = mean of last
measure o = mean of told
measure f = sum of it.food over Vole
`,
  ),
];
