import type { Addition } from '@vole/core';

/** A blank of a ready behaviour. `kind` offers the kinds of the open model, `other` too but first another one than `kind`. */
export interface Blank {
  readonly name: string;
  readonly is: 'kind' | 'other' | 'number' | 'field';
  readonly usual: string;
  readonly says: string;
}

export interface ShelfPart {
  readonly id: string;
  readonly purpose: string;
  readonly name: string;
  /** What the agent would say it does. */
  readonly sentence: string;
  readonly blanks: readonly Blank[];
  /** What it needs that the model may not have. */
  readonly needs?: 'space' | 'map';
  /** What goes into the text, with the blanks in braces; `{u}` is the unit of the space, with a blank before it. */
  readonly adds: Addition;
}

const KIND: Blank = { name: 'kind', is: 'kind', usual: 'Vole', says: 'who does it' };
const OTHER: Blank = { name: 'other', is: 'other', usual: 'Vole', says: 'to or with whom' };
const number = (name: string, usual: number | string, says: string): Blank => ({
  name,
  is: 'number',
  usual: String(usual),
  says,
});
const ENERGY = 'has energy = uniform(0.5, 1.5)';
const AGE = 'has age = 0 steps';
const FIELD: Blank = { name: 'field', is: 'field', usual: 'grass', says: 'what grows' };
const GRASS =
  'field {field} on {space}{cells}\n  start uniform(0.3, 1)\n  grow 0.05 * {field} * (1 - {field})\n  keep 0 to 1';
const TURNING = (usual: number): Blank => number('turning', usual, 'share of the way it turns in a step');
const STRIDE = number('stride', 0.7, 'length of a step, if it does not move yet');
/** Parts that turn add up, and leave the moving to one behaviour. */
const GOING = 'behaviour go_on\n  move by {stride}{u}';
const HEADINGS = 'show {kind}: leaf';
const HEALTH = 'states health\n  start 3 of Caught, rest Well\n  Well\n  Caught\n    after {lasts} steps: Past\n  Past';
const MOOD = 'states mood\n  Calm\n  Alarmed\n    after {lasts} steps: Calm';

/** Ready behaviours by purpose, ours alone; each inserts model text that can be read and changed. */
export const SHELF: readonly ShelfPart[] = [
  {
    id: 'wander',
    purpose: 'Moving',
    name: 'Wander',
    sentence: 'I turn a little, at random, and take a step.',
    needs: 'space',
    blanks: [KIND, number('stride', 1, 'length of a step'), number('wobble', 30, 'degrees of turning')],
    adds: {
      kind: '{kind}',
      blocks: ['behaviour wander\n  turn by normal(0 deg, {wobble} deg)\n  move by {stride}{u}'],
      order: ['wander in turn'],
    },
  },
  {
    id: 'pace',
    purpose: 'Moving',
    name: 'Go straight on',
    sentence: 'I keep my direction and go on at an even pace.',
    needs: 'space',
    blanks: [KIND, number('stride', 1, 'length of a step')],
    adds: { kind: '{kind}', blocks: ['behaviour go_on\n  move by {stride}{u}'], order: ['go_on in turn'] },
  },
  {
    id: 'leap',
    purpose: 'Moving',
    name: 'Leap',
    sentence: 'Now and then I turn up somewhere else altogether.',
    needs: 'space',
    blanks: [KIND, number('chance', 0.02, 'chance in a step')],
    adds: {
      kind: '{kind}',
      blocks: ['behaviour leap\n  if chance({chance})\n    move to somewhere'],
      order: ['leap in turn'],
    },
  },
  {
    id: 'home',
    purpose: 'Moving',
    name: 'Keep near home',
    sentence: 'I roam, but turn back when I am far from where I began.',
    needs: 'space',
    blanks: [KIND, number('range', 8, 'how far is too far'), number('stride', 1, 'length of a step')],
    adds: {
      kind: '{kind}',
      attributes: ['has home = here'],
      blocks: [
        'behaviour keep_near\n  turn by normal(0 deg, 40 deg)\n  if distance(home) > {range}{u}\n    turn to home\n  move by {stride}{u}',
      ],
      order: ['keep_near in turn'],
    },
  },
  {
    id: 'errands',
    purpose: 'Along lanes',
    name: 'Run errands',
    sentence: 'I travel along the lanes from one place to another, and on to the next.',
    needs: 'map',
    blanks: [KIND, number('pace', 60, 'length of way in a step')],
    adds: {
      kind: '{kind}',
      attributes: ['has goal = somewhere'],
      blocks: [
        'behaviour run_errands\n  travel to goal at {pace}{u} per step\n  if here is goal\n    goal = somewhere',
      ],
      order: ['run_errands in turn'],
    },
  },
  {
    id: 'queue',
    purpose: 'Along lanes',
    name: 'Queue on full lanes',
    sentence: 'A lane holds only so many: where too many go close ahead of me, I go as slowly as they let me.',
    needs: 'map',
    blanks: [
      KIND,
      number('pace', 60, 'length of way in a step'),
      number('capacity', 4, 'how many may go close ahead'),
      number('gap', 20, 'how far ahead is close'),
      number('slow', 0.2, 'share of the pace in a queue'),
    ],
    adds: {
      kind: '{kind}',
      attributes: ['has goal = somewhere', 'has queues = no'],
      blocks: [
        'behaviour queue_on\n  queues = count {kind} ahead within {gap}{u} along the lanes >= {capacity}\n  travel to goal at {pace}{u} per step * (if queues then {slow} else 1)\n  if here is goal\n    goal = somewhere',
      ],
      order: ['queue_on in turn'],
    },
  },
  {
    id: 'spread-out',
    purpose: 'Together',
    name: 'Keep apart',
    sentence: 'When somebody is too close I turn away from it.',
    needs: 'space',
    blanks: [KIND, OTHER, number('close', 2, 'how near is too near'), TURNING(0.3), STRIDE],
    adds: {
      kind: '{kind}',
      blocks: [
        'behaviour keep_apart\n  with near = nearest {other} within {close}{u}\n    turn by {turning} * swing(direction, bearing(near) + 180 deg)',
      ],
      going: GOING,
      parts: [HEADINGS],
      order: ['keep_apart in turn'],
    },
  },
  {
    id: 'gather',
    purpose: 'Together',
    name: 'Keep with the others',
    sentence: 'I turn to the middle of those I see.',
    needs: 'space',
    blanks: [KIND, number('sight', 10, 'how far it sees'), TURNING(0.03), STRIDE],
    adds: {
      kind: '{kind}',
      blocks: [
        'behaviour keep_with\n  if any {kind} within {sight}{u}\n    turn by {turning} * swing(direction, bearing(mean of it.place over {kind} within {sight}{u}))',
      ],
      going: GOING,
      parts: [HEADINGS],
      order: ['keep_with in turn'],
    },
  },
  {
    id: 'align',
    purpose: 'Together',
    name: 'Go the way others go',
    sentence: 'I turn to the way that those around me are going.',
    needs: 'space',
    blanks: [KIND, number('sight', 6, 'how far it sees'), TURNING(0.5), STRIDE],
    adds: {
      kind: '{kind}',
      blocks: [
        'behaviour align\n  if any {kind} within {sight}{u}\n    turn by {turning} * swing(direction, mean of it.direction over {kind} within {sight}{u})',
      ],
      going: GOING,
      parts: [HEADINGS],
      order: ['align in turn'],
    },
  },
  {
    id: 'look-around',
    purpose: 'Sensing',
    name: 'Count who is near',
    sentence: 'I count how many are around me and remember it.',
    needs: 'space',
    blanks: [KIND, OTHER, number('sight', 5, 'how far it sees')],
    adds: {
      kind: '{kind}',
      attributes: ['has company = 0'],
      blocks: ['behaviour look_around\n  company = count {other} within {sight}{u}'],
      order: ['look_around in turn'],
    },
  },
  {
    id: 'toward-better',
    purpose: 'Sensing',
    name: 'Go where there is more',
    sentence: 'I sense what lies ahead, to the left and to the right, and turn to where there is most.',
    needs: 'space',
    blanks: [KIND, FIELD, number('reach', 3, 'how far it senses'), number('stride', 1, 'length of a step')],
    adds: {
      kind: '{kind}',
      parts: [GRASS],
      blocks: [
        'behaviour seek\n  let front = {field} at ahead({reach}{u})\n  if {field} at ahead({reach}{u}, -45 deg) > front\n    turn by -45 deg\n  else if {field} at ahead({reach}{u}, 45 deg) > front\n    turn by 45 deg\n  move by {stride}{u}',
      ],
      order: ['seek in turn'],
    },
  },
  {
    id: 'approach',
    purpose: 'Sensing',
    name: 'Go to the nearest',
    sentence: 'I turn to the nearest one I see and go there.',
    needs: 'space',
    blanks: [KIND, OTHER, number('sight', 10, 'how far it sees'), number('stride', 0.5, 'length of a step')],
    adds: {
      kind: '{kind}',
      blocks: [
        'behaviour approach\n  with near = nearest {other} within {sight}{u}\n    turn to near\n    move by {stride}{u}',
      ],
      order: ['approach in turn'],
    },
  },
  {
    id: 'graze',
    purpose: 'Eating',
    name: 'Graze',
    sentence: 'I eat a share of what grows where I stand, and gain energy from it.',
    needs: 'space',
    blanks: [KIND, FIELD, number('bite', 0.3, 'share eaten'), number('cost', 0.05, 'energy used in a step')],
    adds: {
      kind: '{kind}',
      attributes: [ENERGY],
      parts: [GRASS],
      blocks: ['behaviour graze\n  let eaten = {bite} * {field}\n  {field} -= eaten\n  energy += eaten - {cost}'],
      order: ['graze in turn', '{field}'],
    },
  },
  {
    id: 'hunt',
    purpose: 'Eating',
    name: 'Hunt',
    sentence: 'I may catch one that is near me: it is gone, I am fed.',
    needs: 'space',
    blanks: [KIND, OTHER, number('reach', 3, 'how far it reaches'), number('chance', 0.1, 'chance to catch one')],
    adds: {
      kind: '{kind}',
      attributes: [ENERGY],
      parts: [
        'interaction hunt: hunter {kind}, prey {other}\n  random 1 within {reach}{u}\n  chance {chance}\n  remove prey\n  hunter.energy += 1',
      ],
      order: ['hunt in turn'],
    },
  },
  {
    id: 'share-food',
    purpose: 'Eating',
    name: 'Share food',
    sentence: 'If I have plenty I give some to one near me that has less.',
    needs: 'space',
    blanks: [KIND, number('reach', 4, 'how far it reaches'), number('gift', 0.2, 'energy given')],
    adds: {
      kind: '{kind}',
      attributes: [ENERGY],
      blocks: [
        'behaviour share_food when energy > 1\n  with poor = {kind} within {reach}{u} with least it.energy\n    if poor.energy < energy\n      poor.energy += {gift}\n      energy -= {gift}',
      ],
      order: ['share_food in turn'],
    },
  },
  {
    id: 'breed',
    purpose: 'Breeding',
    name: 'Breed when fed',
    sentence: 'When I have energy to spare I bear a young one beside me and share my energy with it.',
    blanks: [KIND, number('enough', 1.2, 'energy it takes'), number('chance', 0.1, 'chance in a step')],
    adds: {
      kind: '{kind}',
      attributes: [ENERGY],
      blocks: [
        'behaviour breed when energy > {enough}\n  if chance({chance})\n    energy = energy / 2\n    create 1 {kind}{here} as young\n      energy = energy / 2',
      ],
      order: ['breed in turn'],
    },
  },
  {
    id: 'litter',
    purpose: 'Breeding',
    name: 'Bear litters',
    sentence: 'Now and then I bear several young, some times more and some times fewer.',
    blanks: [KIND, number('rate', 0.01, 'litters per step'), number('size', 3, 'young in a litter, on average')],
    adds: {
      kind: '{kind}',
      blocks: ['behaviour bear\n  if chance({rate})\n    create poisson({size}) {kind}{here}'],
      order: ['bear in turn'],
    },
  },
  {
    id: 'crowded',
    purpose: 'Breeding',
    name: 'Breed where there is room',
    sentence: 'I bear a young one only where few others live.',
    needs: 'space',
    blanks: [
      KIND,
      number('room', 4, 'how far it looks'),
      number('most', 3, 'at most so many around'),
      number('chance', 0.05, 'chance in a step'),
    ],
    adds: {
      kind: '{kind}',
      blocks: [
        'behaviour settle_young\n  if (count {kind} within {room}{u}) < {most} and chance({chance})\n    create 1 {kind} within {room}{u} of here',
      ],
      order: ['settle_young in turn'],
    },
  },
  {
    id: 'starve',
    purpose: 'Dying',
    name: 'Starve',
    sentence: 'Living costs me energy; with none left I die.',
    blanks: [KIND, number('cost', 0.02, 'energy used in a step')],
    adds: {
      kind: '{kind}',
      attributes: [ENERGY],
      blocks: ['behaviour starve\n  energy -= {cost}\n  if energy < 0\n    remove self'],
      order: ['starve in turn'],
    },
  },
  {
    id: 'age',
    purpose: 'Dying',
    name: 'Die of age',
    sentence: 'I grow older with every step, and die when my time is over.',
    blanks: [KIND, number('oldest', 60, 'steps it lives, about')],
    adds: {
      kind: '{kind}',
      attributes: [AGE, 'has lifetime = gamma(mean = {oldest} steps, shape = 8)'],
      blocks: ['behaviour grow_old\n  age += step\n  if age > lifetime\n    remove self'],
      order: ['grow_old in turn'],
    },
  },
  {
    id: 'mishap',
    purpose: 'Dying',
    name: 'Die by mishap',
    sentence: 'Whatever my age, something may befall me.',
    blanks: [KIND, number('risk', 0.01, 'chance in a step')],
    adds: {
      kind: '{kind}',
      blocks: ['behaviour mishap\n  if chance({risk})\n    remove self'],
      order: ['mishap in turn'],
    },
  },
  {
    id: 'pass-on',
    purpose: 'Passing on',
    name: 'Catch and pass on',
    sentence: 'What I carry I may pass to those near me, until I am over it.',
    needs: 'space',
    blanks: [
      KIND,
      number('reach', 3, 'how far it passes'),
      number('chance', 0.1, 'chance at a meeting'),
      number('lasts', 12, 'steps it lasts'),
    ],
    adds: {
      kind: '{kind}',
      blocks: [HEALTH],
      parts: [
        'interaction pass_on: giver {kind}, taker {kind}\n  within {reach}{u}\n  where giver.health is Caught and taker.health is Well\n  chance {chance}\n  taker.health = Caught',
      ],
      order: ['pass_on in turn', 'health in turn'],
    },
  },
  {
    id: 'pass-anyone',
    purpose: 'Passing on',
    name: 'Pass on to anyone',
    sentence: 'I meet a few at random, wherever they are, and may pass on what I carry.',
    blanks: [
      KIND,
      number('meetings', 3, 'meetings in a step'),
      number('chance', 0.05, 'chance at a meeting'),
      number('lasts', 12, 'steps it lasts'),
    ],
    adds: {
      kind: '{kind}',
      blocks: [HEALTH],
      parts: [
        'interaction pass_around: giver {kind}, taker {kind}\n  mixing {meetings}\n  where giver.health is Caught and taker.health is Well\n  chance {chance}\n  taker.health = Caught',
      ],
      order: ['pass_around in turn', 'health in turn'],
    },
  },
  {
    id: 'warn',
    purpose: 'Passing on',
    name: 'Warn',
    sentence: 'When I am alarmed I call, and those near enough to hear are alarmed too.',
    needs: 'space',
    blanks: [
      KIND,
      number('reach', 5, 'how far the call is heard'),
      number('chance', 0.005, 'chance to be the first'),
      number('lasts', 6, 'steps the alarm lasts'),
    ],
    adds: {
      kind: '{kind}',
      parts: ['message Warning'],
      blocks: [
        'states mood\n  Calm\n    on Warning: Alarmed\n    chance {chance}: Alarmed\n  Alarmed\n    enter\n      send Warning to all {kind} within {reach}{u}\n    after {lasts} steps: Calm',
      ],
      order: ['mood in turn'],
    },
  },
  {
    id: 'copy-one',
    purpose: 'Copying',
    name: 'Copy a neighbour',
    sentence: 'I take over the habit of one I see.',
    needs: 'space',
    blanks: [KIND, number('sight', 5, 'how far it sees'), number('chance', 0.2, 'chance in a step')],
    adds: {
      kind: '{kind}',
      attributes: ['has habit = pick(first_way, second_way)'],
      blocks: [
        'behaviour copy_one\n  if chance({chance})\n    with near = random {kind} within {sight}{u}\n      habit = near.habit',
      ],
      order: ['copy_one in turn'],
    },
  },
  {
    id: 'copy-most',
    purpose: 'Copying',
    name: 'Do as most do',
    sentence: 'I lean to what the others around me do, on average.',
    needs: 'space',
    blanks: [KIND, number('sight', 5, 'how far it sees'), number('lean', 0.2, 'how far it goes towards them')],
    adds: {
      kind: '{kind}',
      attributes: ['has opinion = uniform(0, 1)'],
      blocks: [
        'behaviour lean\n  if any {kind} within {sight}{u}\n    opinion += {lean} * ((mean of it.opinion over {kind} within {sight}{u}) - opinion)',
      ],
      order: ['lean in turn'],
    },
  },
  {
    id: 'flee',
    purpose: 'Avoiding',
    name: 'Flee',
    sentence: 'When I see one I fear I turn round and run.',
    needs: 'space',
    blanks: [KIND, OTHER, number('sight', 5, 'how far it sees'), number('stride', 2, 'length of a leap')],
    adds: {
      kind: '{kind}',
      blocks: [
        'behaviour flee\n  with feared = nearest {other} within {sight}{u}\n    turn to feared\n    turn by 180 deg\n    move by {stride}{u}',
      ],
      order: ['flee in turn'],
    },
  },
  {
    id: 'hide',
    purpose: 'Avoiding',
    name: 'Hide when afraid',
    sentence: 'With one I fear close by I hide, and come out again after a while.',
    needs: 'space',
    blanks: [KIND, OTHER, number('sight', 4, 'how far it sees'), number('lasts', 5, 'steps it hides')],
    adds: {
      kind: '{kind}',
      blocks: [
        'states cover\n  Out\n    when any {other} within {sight}{u}: Hidden\n  Hidden\n    after {lasts} steps: Out',
      ],
      order: ['cover in turn'],
    },
  },
  {
    id: 'sleep',
    purpose: 'Resting',
    name: 'Rest and wake',
    sentence: 'I am awake for a while, then rest for a while, each of us in our own time.',
    blanks: [KIND, number('awake', 12, 'steps awake, on average'), number('rest', 6, 'steps of rest, on average')],
    adds: {
      kind: '{kind}',
      blocks: [
        'states waking\n  Awake\n    after gamma(mean = {awake} steps, shape = 4): Asleep\n  Asleep\n    after gamma(mean = {rest} steps, shape = 4): Awake',
      ],
      order: ['waking in turn'],
    },
  },
  {
    id: 'tire',
    purpose: 'Resting',
    name: 'Tire and recover',
    sentence: 'I grow tired with every step, and stop to recover when I cannot go on.',
    blanks: [
      KIND,
      number('tiring', 0.1, 'strength used in a step'),
      number('recovering', 0.2, 'strength won back in a step'),
    ],
    adds: {
      kind: '{kind}',
      attributes: ['has strength = uniform(0.2, 1)', 'has resting = no'],
      blocks: [
        'behaviour tire\n  if resting\n    strength += {recovering}\n    if strength >= 1\n      resting = no\n  else\n    strength -= {tiring}\n    if strength <= 0\n      resting = yes',
      ],
      order: ['tire in turn'],
    },
  },
  {
    id: 'tie',
    purpose: 'Tying',
    name: 'Make friends',
    sentence: 'I tie myself to one I meet, and forget an old tie now and then.',
    needs: 'space',
    blanks: [
      KIND,
      number('sight', 4, 'how far it sees'),
      number('chance', 0.1, 'chance of a new tie'),
      number('forgetting', 0.02, 'chance to lose one'),
    ],
    adds: {
      kind: '{kind}',
      parts: ['network Friends ties {kind} to {kind}: none'],
      blocks: [
        'behaviour befriend\n  if chance({chance})\n    with near = random {kind} within {sight}{u}\n      tie to near by Friends\n  if chance({forgetting})\n    untie from random {kind} tied by Friends by Friends',
      ],
      order: ['befriend in turn'],
    },
  },
  {
    id: 'tied-copy',
    purpose: 'Tying',
    name: 'Listen to my ties',
    sentence: 'I am tied to some for good, and take over what they think.',
    blanks: [KIND, number('ties', 6, 'ties each, an even number'), number('lean', 0.2, 'how far it goes towards them')],
    adds: {
      kind: '{kind}',
      attributes: ['has opinion = uniform(0, 1)'],
      parts: ['network Circle ties {kind} to {kind}: small world, {ties} neighbours, rewired 10 %'],
      blocks: [
        'behaviour listen\n  if any {kind} tied by Circle\n    opinion += {lean} * ((mean of it.opinion over {kind} tied by Circle) - opinion)',
      ],
      order: ['listen in turn'],
    },
  },
  {
    id: 'arrive',
    purpose: 'Arriving',
    name: 'Newcomers',
    sentence: 'From outside some of us arrive now and then.',
    blanks: [KIND, number('every', 10, 'steps between arrivals'), number('many', 3, 'how many at a time')],
    adds: { timeline: ['every {every} steps\n  create {many} {kind}{anywhere}'] },
  },
  {
    id: 'leave',
    purpose: 'Leaving',
    name: 'Move away',
    sentence: 'If it is too crowded for me I leave for good.',
    needs: 'space',
    blanks: [
      KIND,
      number('sight', 5, 'how far it looks'),
      number('most', 3, 'more than so many are too many'),
      number('chance', 0.1, 'chance to go then'),
    ],
    adds: {
      kind: '{kind}',
      blocks: [
        'behaviour move_away\n  if (count {kind} within {sight}{u}) > {most} and chance({chance})\n    remove self',
      ],
      order: ['move_away in turn'],
    },
  },
  {
    id: 'season',
    purpose: 'Seasons',
    name: 'Good times and bad',
    sentence: 'In good times we thrive, in bad times we lose strength, and the times come round again.',
    blanks: [
      KIND,
      number('length', 40, 'steps of a whole round'),
      number('swing', 0.05, 'energy won or lost at the height'),
    ],
    adds: {
      kind: '{kind}',
      attributes: [ENERGY],
      blocks: ['behaviour feel_season\n  energy += {swing} * sin(360 deg * now / ({length} * step))'],
      order: ['feel_season in turn'],
    },
  },
  {
    id: 'ban',
    purpose: 'Policy',
    name: 'A rule for some time',
    sentence: 'From one day to another all of us stay where we are.',
    needs: 'space',
    blanks: [
      KIND,
      number('from', 30, 'step it begins'),
      number('to', 60, 'step it ends'),
      number('stride', 1, 'length of a step'),
    ],
    adds: {
      kind: '{kind}',
      parameters: ['parameter stay_put = no   "everybody stays where they are"'],
      blocks: ['behaviour roam_if_allowed when not stay_put\n  turn by normal(0 deg, 30 deg)\n  move by {stride}{u}'],
      order: ['roam_if_allowed in turn'],
      timeline: ['from {from} steps to {to} steps: stay_put = yes'],
    },
  },
  {
    id: 'threshold',
    purpose: 'Policy',
    name: 'Act when there are too many',
    sentence: 'When we are more than a limit, measures are taken against us.',
    blanks: [KIND, number('limit', 20, 'more than so many'), number('risk', 0.05, 'chance in a step to be taken')],
    adds: {
      kind: '{kind}',
      parameters: ['parameter measures_on = no   "measures are taken"'],
      blocks: ['behaviour face_measures when measures_on\n  if chance({risk})\n    remove self'],
      order: ['face_measures in turn'],
      timeline: ['while count {kind} > {limit}: measures_on = yes'],
    },
  },
  {
    id: 'alarm-cool',
    purpose: 'Policy',
    name: 'Stay in when alarmed',
    sentence: 'Once alarmed I do not move until I am calm again.',
    needs: 'space',
    blanks: [
      KIND,
      number('chance', 0.02, 'chance to take fright'),
      number('lasts', 8, 'steps it lasts'),
      number('stride', 1, 'length of a step'),
    ],
    adds: {
      kind: '{kind}',
      blocks: [
        MOOD,
        'behaviour go_out when mood is Calm\n  turn by normal(0 deg, 30 deg)\n  move by {stride}{u}\n  if chance({chance})\n    mood = Alarmed',
      ],
      order: ['go_out in turn', 'mood in turn'],
    },
  },
];

/** What the blanks of a model's text say by themselves. */
export interface Setting {
  readonly unit: string;
  readonly space: string | undefined;
  readonly isPlane: boolean;
}

/** The addition of a part with its blanks filled in. */
export function filled(part: ShelfPart, values: Readonly<Record<string, string>>, setting: Setting): Addition {
  const words: Record<string, string> = {
    ...Object.fromEntries(part.blanks.map((blank) => [blank.name, blank.usual])),
    ...values,
    u: setting.unit && ` ${setting.unit}`,
    space: setting.space ?? '',
    cells: setting.isPlane ? `, cells of 2${setting.unit && ` ${setting.unit}`}` : '',
    here: setting.space ? ' here' : '',
    anywhere: setting.space ? ' anywhere' : '',
  };
  const fill = (text: string): string => text.replace(/\{(\w+)\}/g, (_, name: string) => words[name] ?? '');
  const all = (list: readonly string[] | undefined): string[] | undefined => list?.map(fill);
  const { adds } = part;
  return {
    kind: adds.kind && fill(adds.kind),
    attributes: all(adds.attributes),
    blocks: all(adds.blocks),
    going: adds.going && fill(adds.going),
    parameters: all(adds.parameters),
    parts: all(adds.parts),
    order: all(adds.order),
    timeline: all(adds.timeline),
  };
}

/** A pen of twenty voles in which a part is shown. */
export const PEN = `model Pen
clock
  end after 400 steps
space Pen: plane 30 by 18, reflecting
agent Vole
  start 24 anywhere
measure voles = count Vole
show Vole: leaf
`;
