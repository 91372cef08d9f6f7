/** Models of vehicles and who rides in them, for the tests that go over models of every construct. */

import { VILLAGE } from './map-models.ts';
import { model } from './model-text.ts';

export const VEHICLE_MODELS: readonly (readonly [string, string])[] = [
  model(
    'Ferries along the lanes of a map',
    `
clock
  step 1 minute
  end after 25 steps
${VILLAGE}
parameter seats_each = 3, whole from 0 to 20
space Village: map from "village.geojson", in metres
define pier(i) = if i is 0 then place named "Mill" else if i is 1 then (180 m, 120 m) else (240 m, 200 m)
agent Ferry
  seats seats_each + (if number > 2 then 1 else 0)
  has stop = 1
  has left = 0
  states trip
    Docked
      after 1 minute: Sailing
    Sailing
      on arrival when stop < 2: Docked
        stop += 1
      on arrival: Moored
    Moored
      enter
        left = riders of self
      after 1 minute: Gone
    Gone
      enter
        remove self
  behaviour sail when trip is Sailing
    travel to pier(stop) at 90 m per minute
agent Vole
  start 25 anywhere
  has left_behind = 0
  has mates = 0
  has free = 0
  states errand
    Walking
      on arrival: Waiting
    Waiting
      when vehicle is not nobody: Aboard
    Aboard
      when vehicle is nobody: Back
    Back
  behaviour walk
    if errand is Walking
      travel to pier(0) at 40 m per minute
    if errand is Back
      travel to pier(0) at 30 m per minute
  behaviour board when errand is Waiting
    with f = random Ferry within 5 m where it.trip is Docked
      free = seats left of f
    board first Ferry within 5 m where it.trip is Docked
    else
      left_behind += 1
  behaviour ride when errand is Aboard
    mates = count Vole aboard
    with f = vehicle
      if f.trip is Moored or chance(5 %)
        alight
        if chance(20 %)
          remove self
order
  sail in turn
  ride in turn
  board in turn
  walk in turn
  errand in turn
  trip in turn
timeline
  every 4 minutes
    create 1 Ferry at place named "Mill"
measure aboard = count Vole where it.vehicle is not nobody
measure riding = sum of (riders of it) over Ferry
measure free = mean of (seats left of it) over Ferry
measure full = share of Ferry where seats left of it is 0
measure behind = sum of it.left_behind over Vole
measure close = mean of it.mates over Vole
`,
  ),
  model(
    'Carts aboard rafts, with riders of two kinds',
    `
clock
  step 1 minute
  end after 25 steps
space Yard: plane 100 m by 80 m, wrapping
agent Raft
  start 3 anywhere
  seats 4
  has hears = 0
  behaviour drift
    turn by uniform(-40 deg, 40 deg)
    move by 6 m
    if chance(0.1)
      move to somewhere
    if chance(0.1)
      for each c in Cart aboard self
        set down c
    take on nearest Cart within 15 m where it.vehicle is nobody
    repeat at most 3 times
      until seats left of self is 0
      take on Vole within 12 m where not any Raft carrying it with most it.wish
      else
        hears += 1
  on Call
    hears += 1
    set down random Vole aboard self
agent Cart
  start 9 anywhere
  seats if number is 2 then 0 else 2
  has met = 0
  behaviour roll
    if vehicle is nobody
      move toward nearest Raft by 4 m
    met = count Vole aboard + count Hen aboard
    if chance(0.03)
      remove self
    with r = vehicle
      met += count Cart aboard r + riders of r + 10 * seats of r
agent Vole
  start 30 anywhere
  has wish = uniform(0, 1)
  has cough = number is 1
  behaviour go
    if not any Cart carrying self and not any Raft carrying self
      turn by normal(0 deg, 30 deg)
      move by 3 m
      board random Cart within 9 m where seats left of it > 0
    else
      wish *= 0.9
      if chance(0.1)
        alight
    if chance(0.05)
      send Call to all Raft
    if chance(0.02)
      create 1 Vole here as baby
        board nearest Cart
agent Hen
  start 12 anywhere
  states perch
    Down
      when any Cart within 8 m: Up
        board first Cart within 8 m
    Up
      rate 0.2 per minute: Down
        alight
message Call
interaction catch_cough: ill Vole, well Vole
  random within 5 m
  where ill.cough and any Cart carrying well
  chance 0.5
  well.cough = yes
interaction peck: h Hen, c Cart
  nearest within 20 m
  where h.perch is Down
  board c
order
  drift in turn
  roll in fixed order
  go in turn
  catch_cough in turn
  peck in turn
  perch in turn
measure carts = sum of (riders of it) over Raft
measure voles = count Vole where any Cart carrying it
measure ill = count Vole where it.cough
measure met = sum of it.met over Cart
measure hears = sum of it.hears over Raft
measure up = count Hen where it.vehicle is not nobody and it.perch is Up
measure near = mean of (count Vole aboard it) over Cart
show Vole: leaf
`,
  ),
  model(
    'Lines that run both ways, and journeys with them',
    `
clock
  step 1 minute
  end after 25 steps
${VILLAGE}
parameter headway = 4 minutes, from 1 to 30
space Village: map from "village.geojson", in metres
agent Ferry
  seats 2
  has called = 0
  states trip
    Going
      on arrival: Going
        called += 1
agent Cart
  seats number
line Ferries by Ferry, both ways
  stops place named "Mill", (180 m, 120 m), (240 m, 200 m), place named "Parade ground"
  every headway
  at 200 m per minute
  dwell 90 s
line Carts by Cart
  stops (5 m, 5 m), (5 m, 180 m), (120 m, 180 m)
  every 3 minutes
  at 150 m per minute on ways lane road
agent Vole
  start 40 anywhere
  has goal = somewhere
  has pace = pick(20, 25, 60)
  has waited = 0
  has trips = 0
  has best = 0 minutes
  states s
    Out
      on arrival: Back
        trips += 1
    Back
      on arrival: Out
        trips += 1
        goal = somewhere
  behaviour go
    best = time to goal at (pace * 1 m per minute) or by Ferries, Carts
    if waiting
      waited += 1
    if s is Out
      travel to goal at pace * 1 m per minute or by Ferries, Carts
      else
        goal = place named "Mill"
    else
      travel to place named "Parade ground" at pace * 1 m per minute by the quickest way or by Carts
agent Hen
  start 6 within 40 m of place named "Mill"
  behaviour follow
    if any Cart carrying self
      if chance(0.2)
        alight
    else
      travel to nearest Vole at 30 m per minute or by Carts
order
  Ferries in fixed order
  go in turn
  Carts in turn
  follow in turn
  s in turn
  trip in turn
timeline
  at 12 minutes: headway = 2 minutes
measure ferries = count Ferry
measure carts = count Cart
measure aboard = sum of (riders of it) over Ferry
measure waits = count Vole where it.waiting
measure waited = sum of it.waited over Vole
measure trips = sum of it.trips over Vole
measure best = (sum of (if it.best < 9 h then it.best else 0 h) over Vole) / 1 minute
measure called = sum of it.called over Ferry
`,
  ),
  model(
    'Queues along the lanes',
    `
clock
  step 10 s
  end after 25 steps
${VILLAGE}
space Village: map from "village.geojson", in metres
agent Vole
  start 60 anywhere
  has goal = somewhere
  has near = 0
  has straight = 0
  has ahead_of_me = 0
  has friend: Vole = nobody
  has met = 0
  behaviour go
    near = count Vole within 40 m along the lanes
    straight = count Vole within 40 m
    ahead_of_me = count Vole ahead within 30 m along the lanes
    friend = nearest Vole within 50 m along the lanes where it.near < 6
    if ahead_of_me < 3
      travel to goal at 2 km per h
  behaviour look
    met += count Vole within 30 m of place named "Mill" along the lanes where it.near > 1
interaction greet: a Vole, b Vole
  random ahead within 60 m along the lanes
  chance 0.5
  b.met += 1
interaction nod: a Vole, b Vole
  mixing 0.3: 60 % within 50 m along the lanes, rest anyone
  a.met += 1
order
  go in turn
  look all at once
  greet in turn
  nod in turn
measure near = mean of it.near over Vole
measure fewer = count Vole where it.near <= it.straight
measure ahead_of = sum of it.ahead_of_me over Vole
measure met = sum of it.met over Vole
measure friends = count Vole where it.friend is not nobody
`,
  ),
  model(
    'Carts by a timetable beside ferries',
    `
clock
  step 1 minute
  end after 40 steps
${VILLAGE}
space Village: map from "village.geojson", in metres
data "carts.csv"
  line,trip,x,y,arrives,leaves
  Carts,a,20,20,,0:03
  Carts,a,150,140,0:04:30,0:05
  Carts,a,260,280,0:06:30,
  Carts,b,260,280,0:04,0:05
  Carts,b,20,20,0:08,
  Carts,c,150,140,0:14,
  Carts,c,20,20,0:15:20,0:16
  Carts,c,260,280,0:18,
agent Cart
  seats 3
agent Ferry
  seats 2
line Carts by Cart
  timetable from "carts.csv"
line Ferries by Ferry, both ways
  stops place named "Mill", (200 m, 200 m)
  every 3 minutes
  at 12 km per h
agent Vole
  start 12 anywhere
  has goal = somewhere
  has expected = 0 minutes
  has pace = uniform(1, 4) km per h
  states errand
    Out
      on arrival: There
    There
      rate 6 per h: Out
        goal = somewhere
  behaviour go when errand is Out
    expected = time to goal at pace or by Carts
    travel to goal at pace or by Carts, Ferries
order
  Carts in turn
  Ferries in turn
  go in turn
  errand in turn
measure riding = sum of (riders of it) over Cart
measure sailing = sum of (riders of it) over Ferry
measure waiting = count Vole where it.waiting
measure expected = (sum of it.expected over Vole where it.expected < 9 h) / 1 minute
measure carts = count Cart
`,
  ),
  model(
    'Boats without a space',
    `
agent Boat
  start 3
  seats 2
  has full = 0
  behaviour look
    full = seats of self - seats left of self
    if chance(0.1)
      remove self
    if chance(0.15)
      create 1 Boat
agent Vole
  start 9
  behaviour row
    board random Boat
    else
      alight
order
  row in turn
  look in turn
measure aboard = count Vole where it.vehicle is not nobody
measure most = max of (riders of it) over Boat
`,
  ),
];
