import { describe, expect, it } from 'vitest';
import { CompiledPlan } from '../src/index.ts';
import { CONSTRUCT_MODELS } from './construct-models.ts';
import { generateModel } from './model-generator.ts';
import { compiledRun, planOf } from './models.ts';

/** Generated code can reach nothing but its columns and the engine's functions, whatever a model text says. */

const HOSTILE = `model "; globalThis.stolen = 1; //
  \`\${globalThis.stolen = 2}\`
clock
  end after 3 steps
parameter constructor = 1   "*/ globalThis.stolen = 3; /*"
variable _proto__ = 2
agent prototype
  start 2
  has toString = 1
  has window = pick(globalThis, process)
  states valueOf
    eval
      when toString > 1: alert
    alert
  behaviour hasOwnProperty
    toString += constructor + _proto__
    let document = toString
    toString = document
order
  hasOwnProperty in turn
  valueOf in turn
measure fetch = sum of it.toString over prototype
chart \`\${1}\`: fetch
`;

describe('generated code', () => {
  it('holds no name and no sentence of the text, and runs texts full of traps', () => {
    const plan = planOf(HOSTILE);
    const { source } = new CompiledPlan(plan);
    for (const word of [
      'stolen',
      'globalThis',
      'constructor',
      '_proto__',
      'toString',
      'window',
      'valueOf',
      'hasOwnProperty',
      'fetch',
      'document',
      'eval(',
    ])
      expect(source).not.toContain(word);
    const { run } = compiledRun(plan);
    run.runTo();
    expect(run.valueAt(3, 0)).toBe(2 * (1 + 3 * 3));
    expect((globalThis as { stolen?: number }).stolen).toBeUndefined();
  });

  it('hides no name of the whole code behind one of a block, but for columns that are held for a while', () => {
    const held = /^(?:k|g|net)\d+_/;
    const texts = [
      ...CONSTRUCT_MODELS.map(([, text]) => text),
      ...Array.from({ length: 60 }, (_, i) => generateModel(i + 1)),
    ];
    const hidden = texts.flatMap((text) => {
      const lines = new CompiledPlan(planOf(text)).source.split('\n');
      const flat = (line: string): string => {
        const without = line.replace(/\([^()]*\)|\[[^[\]]*\]/g, '');
        return without === line ? line : flat(without);
      };
      const declared = (line: string): string[] =>
        [...flat(line.replace(/^\s*for \(/, '')).matchAll(/\b(?:const|let) ([^;]*)/g)].flatMap(([, list]) =>
          [...`, ${list!}`.matchAll(/, ([\w$]+)(?= =|,|$)/g)].map(([, name]) => name!),
        );
      const outer = new Set(
        lines.flatMap((line) =>
          line.startsWith(' ')
            ? []
            : line.startsWith('function ')
              ? [/^function (\w+)/.exec(line)![1]!]
              : declared(line),
        ),
      );
      return lines.filter(
        (line) => line.startsWith(' ') && declared(line).some((name) => outer.has(name) && !held.test(name)),
      );
    });
    expect([...new Set(hidden)].slice(0, 9)).toEqual([]);
  });

  it('uses only its own names, words of the language and functions of the engine', () => {
    const known =
      /^(?:const|let|function|return|for|if|else|switch|case|break|continue|new|try|catch|throw|true|false|null|undefined|found\d+|turn|bound|Math|imul|floor|abs|sqrt|ceil|Infinity|NaN|use|strict|E|W|S|P|CL|TL|TB|MAIL|M|F|FC|FL|FR|FN|FW|FA|IN|isNaN)$/;
    const own =
      /^(?:[kgcevxyrmqnfjibodthpuzwlQRIHNCDOVLwSMXY]\d+|(?:MX|MY|isExact|half|inside|GR|SP|SW|SH|OCC|RS|DISCS|WRAPS)\d+|n\d+_|net\d+(?:_\d_(?:start|length|other))?|(?:cellOf|row|lastRow|values|equals)\d+|i\d+_|rep\d+|(?:nf|nb|ch|re|gb|cl|rc|own|sum|gk|rw)\d+(?:_\d+)*|k\d+_\w+|g\d+_\w+|o\d+_\d+|os\d+_\d+|(?:gs|gg|st|ex|sz|co|tl|lo|hi|on|from|end|a|b|e|fx|fy|best|s)\d+(?:_\d+)*|L\d+|K\d+(?:_\d+_\d+(?:or\d+)*)?|s0|s1|w1|w2)$/;
    const words = new Set<string>();
    for (let seed = 1; seed <= 40; seed++) {
      const { source } = new CompiledPlan(planOf(generateModel(seed)));
      const bare = source
        .replace(/"[^"]*"/g, '')
        .replace(/\/\/.*$/gm, '')
        .replace(/\.\w+/g, '')
        .replace(/\w+: (?=net\d)/g, '');
      for (const word of bare.match(/(?<![\w$])[A-Za-z_$][\w$]*/g) ?? []) words.add(word);
    }
    const engine = new CompiledPlan(planOf(generateModel(1))).source.match(/const \{ ([^}]*) \} = E/)![1]!.split(', ');
    const locals = [
      'lists',
      'writes',
      'removeAt',
      'turns',
      'total',
      'wEnd',
      'wNow',
      'WE',
      'WL',
      'fin',
      'finOrEmpty',
      'site',
      'kind',
      'slot',
      'out',
      'key0',
      'key1',
      'count',
      'list',
      'cell',
      'dx',
      'dy',
      'mx',
      'my',
      'tx',
      'ty',
      'cx',
      'cy',
      'from',
      'to',
      'score',
      'tries',
      'at',
      'x',
      'y',
      'lo',
      'hi',
      'e',
      'cells',
      'ox',
      'oy',
      'fi',
      'fj',
      'fx',
      'fy',
      'vx',
      'vy',
      'w3',
      'share',
      'luck',
      'reached',
      'due',
      'column',
      'own',
      ...['gx', 'gy', 'am', 'sp', 'LN'],
      ...['pace', 'quickest', 'ways', 'lines', 'trips', 'value'],
      'lists',
      ...['v', 'i', 'j', 't', 'p', 'n', 'c', 'd', 'h', 'a', 'b'],
      'began',
      'order',
      'failure',
      'half',
    ];
    const parts = [
      'values',
      'fieldStarts',
      'fieldGrows',
      'fieldKeeps',
      'fieldBecomes',
      'cellLists',
      'changes',
      'reactions',
      'tieFirsts',
      'tieAgents',
      'records',
      'recordWhens',
      'distributions',
      'starts',
      'exacts',
      'entries',
      'acts',
      'sizes',
      'colours',
    ];
    const strange = [...words].filter(
      (word) =>
        !known.test(word) &&
        !own.test(word) &&
        !engine.includes(word) &&
        !locals.includes(word) &&
        !parts.includes(word),
    );
    expect(strange).toEqual([]);
  });

  it('is the same text for the same plan, and does not depend on names', () => {
    const source = (text: string): string => new CompiledPlan(planOf(text)).source;
    const model = generateModel(7);
    expect(source(model)).toBe(source(model));
    const tiny = (attribute: string): string =>
      `model T\nclock\n  end after 3 steps\nagent A\n  start 2\n  has ${attribute} = 1\n  behaviour go\n    ${attribute} += 1\nmeasure m = sum of it.${attribute} over A\n`;
    expect(source(tiny('energy'))).toBe(source(tiny('x_1')));
  });
});
