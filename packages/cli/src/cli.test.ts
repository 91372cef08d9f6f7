import { execFileSync, spawn, spawnSync } from 'node:child_process';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const VOLE = fileURLToPath(new URL('../bin/vole.mjs', import.meta.url));
const MEADOW = fileURLToPath(new URL('../../../examples/meadow-year.vole', import.meta.url));
let folder = '';
const file = (name: string, text: string): string => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};
const vole = (...args: string[]) => spawnSync(process.execPath, [VOLE, ...args], { encoding: 'utf8' });

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'vole-'));
  execFileSync(process.execPath, [VOLE, '--help']);
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('vole feed', () => {
  it('makes a timetable that a model reads, and says what it took', () => {
    const feed = join(folder, 'feed');
    mkdirSync(feed);
    for (const [name, text] of Object.entries({
      'stops.txt': 'stop_id,stop_name,stop_lat,stop_lon\n1,Mill,0,0\n2,Green,0,0.002\n',
      'routes.txt': 'route_id,route_short_name\nr,Carts\n',
      'trips.txt': 'route_id,service_id,trip_id\nr,all,a\n',
      'stop_times.txt':
        'trip_id,arrival_time,departure_time,stop_id,stop_sequence\na,00:02:00,00:02:00,1,1\na,00:04:00,00:04:00,2,2\n',
      'calendar_dates.txt': 'service_id,date,exception_type\nall,20310516,1\n',
    }))
      writeFileSync(join(feed, name), text);
    const table = join(folder, 'trips.csv');
    const { status, stderr } = vole('feed', feed, '--out', table);
    expect(stderr).toBe('1 trip of 2031-05-16 at 2 stops, on 1 route: Carts.\n');
    expect(status).toBe(0);
    file(
      'street.geojson',
      '{"type":"Feature","properties":{"kind":"lane"},"geometry":{"type":"LineString","coordinates":[[0,0],[0.002,0]]}}',
    );
    const model = file(
      'street.vole',
      'model Street\nclock\n  step 1 minute\n  end after 6 steps\nspace Village: map from "street.geojson"\nagent Cart\n  seats 4\nline Carts by Cart\n  timetable from "trips.csv"\norder\n  Carts in turn\nmeasure carts = count Cart\n',
    );
    const { stdout } = vole('run', model);
    expect(
      stdout
        .trim()
        .split('\n')
        .slice(1)
        .map((row) => Number(row.split(',').at(-1))),
    ).toEqual([0, 0, 1, 1, 1, 0, 0]);
    const refused = vole('feed', feed, '--routes', 'Ferries');
    expect([refused.status, refused.stderr]).toEqual([
      2,
      `vole: ${feed}: The feed has no route “Ferries”. It has Carts.\n`,
    ]);
  });
});

describe('vole check', () => {
  it('is content with the example', () => {
    const { stdout, status } = vole('check', MEADOW);
    expect(stdout).toMatch(/0 errors, 0 warnings\n$/);
    expect(status).toBe(0);
  });
  it('shows place, piece, reason and repair, and ends with 1', () => {
    const path = file('wrong.vole', 'model W\nclock\n  end after 5 steps\nparameter bite = 0.1\nmeasure m = bits\n');
    const { stdout, status } = vole('check', path);
    expect(stdout).toContain(`${path}:5:13: error: “bits” is not known here. [name/unknown]`);
    expect(stdout).toContain('  5 | measure m = bits\n    |             ^^^^');
    expect(stdout).toContain('- Write “bite”');
    expect(status).toBe(1);
  });
  it('gives the same as JSON', () => {
    const { stdout, status } = vole('check', join(folder, 'wrong.vole'), '--json');
    const findings = JSON.parse(stdout) as { code: string; start: { line: number; column: number } }[];
    expect(findings.find((f) => f.code === 'name/unknown')!.start).toEqual({ line: 5, column: 13 });
    expect(status).toBe(1);
  });
  it('says that a file is not there', () => {
    const { stderr, status } = vole('check', join(folder, 'none.vole'));
    expect(stderr).toContain('there is no file');
    expect(status).toBe(2);
  });
  it('refuses a file of five megabytes in words', () => {
    const { stdout, status } = vole('check', file('large.vole', 'x '.repeat(2_500_000)));
    expect(stdout).toContain('text/too-long');
    expect(stdout.length).toBeLessThan(2000);
    expect(status).toBe(1);
  });
});

describe('vole run', () => {
  it('writes tidy rows to standard output and progress to standard error', () => {
    const { stdout, stderr, status } = vole('run', MEADOW, '--seeds', '3..4', '--steps', '20', '--every', '10');
    const lines = stdout.trimEnd().split('\n');
    expect(lines[0]).toBe('run,seed,step,time [days],voles,nests,cover');
    expect(lines.slice(1).map((line) => line.split(',').slice(0, 4).join(','))).toEqual([
      '1,3,0,0',
      '1,3,10,10',
      '1,3,20,20',
      '2,4,0,0',
      '2,4,10,10',
      '2,4,20,20',
    ]);
    expect(stderr).toContain('run 2 of 2, seed 4: 20 steps');
    expect(status).toBe(0);
  });
  it('gives the same rows alone as among others, and other rows for another seed', () => {
    const rows = (...args: string[]): string[] =>
      vole('run', MEADOW, '--steps', '30', ...args)
        .stdout.trimEnd()
        .split('\n')
        .slice(1)
        .map((line) => line.split(',').slice(1).join(','));
    const both = rows('--seeds', '5..6');
    expect(both.filter((line) => line.startsWith('6,'))).toEqual(rows('--seed', '6'));
    expect(rows('--seed', '5').map((line) => line.slice(2))).not.toEqual(
      rows('--seed', '6').map((line) => line.slice(2)),
    );
  });
  it('loses no other run to one that fails, and tells which failed', () => {
    const path = file(
      'late.vole',
      'model F\nclock\n  end after 9 steps\nagent A\n  start 1\n  has k = 1\n  behaviour go\n    k = 1 / whole(0, 4)\nmeasure m = sum of it.k over A\n',
    );
    const { stderr, stdout, status } = vole('run', path, '--seeds', '1..12');
    const alone = Array.from({ length: 12 }, (_, i) => vole('run', path, '--seed', String(i + 1)));
    const good = alone.flatMap(({ status: code }, i) => (code === 0 ? [i + 1] : []));
    expect(good.length).toBeGreaterThan(0);
    expect(good.length).toBeLessThan(12);
    const rows = stdout.trimEnd().split('\n').slice(1);
    expect([...new Set(rows.map((row) => Number(row.split(',')[1])))]).toEqual(good);
    expect(rows.length).toBe(10 * good.length);
    expect(stderr).toContain(`${12 - good.length} of 12 runs stopped before their end and have no rows`);
    expect(status).toBe(1);
  });
  it('writes what log lines say into a file of its own, a row a note, and refuses where there is none', () => {
    const path = file(
      'diary.vole',
      'model Diary\nclock\n  step 1 day\n  end after 2 steps\nagent A\n  start 1\n  has age = 3 days\n  behaviour go\n    age += 1 day\n    log "now", age\norder\n  go in turn\nmeasure n = count A\n',
    );
    const log = join(folder, 'diary.csv');
    expect(vole('run', path, '--seeds', '4..5', '--log', log).status).toBe(0);
    expect(readFileSync(log, 'utf8').trimEnd().split('\n')).toEqual([
      'run,seed,step,time [days],agent,line,note',
      '1,4,1,1,A 1,10,now 4 days',
      '1,4,2,2,A 1,10,now 5 days',
      '2,5,1,1,A 1,10,now 4 days',
      '2,5,2,2,A 1,10,now 5 days',
    ]);
    // A run that stops leaves what it had written: it may tell why.
    const stops = file(
      'stops.vole',
      readFileSync(path, 'utf8')
        .replace('    log "now", age\n', '    log "now", age\n    age = age / (5 - now / 1 day)\n')
        .replace('2 steps', '9 steps'),
    );
    expect(vole('run', stops, '--log', log, '--force').status).toBe(1);
    expect(readFileSync(log, 'utf8').trimEnd().split('\n').length).toBe(7);
    const none = vole('run', MEADOW, '--steps', '1', '--log', join(folder, 'none.csv'));
    expect([none.status, none.stderr]).toEqual([2, 'vole: the model has no “log” line to write\n']);
  });
  it('takes values with their units, and summaries', () => {
    const run = (setting: string): string => vole('run', MEADOW, '--steps', '40', '--summary', '--set', setting).stdout;
    expect(run('strike=0.7 per week')).toBe(run('strike=0.1'));
    expect(run('strike=0.1')).not.toBe(run('strike=0.2'));
    expect(run('strike=0.1').split('\n')[0]).toBe('run,seed,steps,peak,peak_day [days],at_end,low_cover,died_out');
  });
  it('writes a file only when it is complete', () => {
    const out = join(folder, 'rows.csv');
    expect(vole('run', MEADOW, '--steps', '5', '--out', out).status).toBe(0);
    expect(readFileSync(out, 'utf8').split('\n')).toHaveLength(8);
    expect(existsSync(`${out}.part`)).toBe(false);
  });
  it('stops with the place in the text when the run fails, and leaves no half file', () => {
    const path = file(
      'fails.vole',
      'model F\nclock\n  end after 9 steps\nagent A\n  start 1\n  has k = 3\n  behaviour go\n    k -= 1\n    let z = 1 / k\n    k += 0 * z\nmeasure m = sum of it.k over A\n',
    );
    const out = join(folder, 'fails.csv');
    const { stderr, status } = vole('run', path, '--out', out);
    expect(stderr).toContain(`seed 1: ${path}:9:13: error: In step 3, A.go: a division came out as`);
    expect(status).toBe(1);
    expect(existsSync(out) || existsSync(`${out}.part`)).toBe(false);
  });
  const wrong: [string, string[], string][] = [
    ['an unknown parameter', ['--set', 'bight=1'], 'no parameter “bight”'],
    ['a word where a number should be', ['--set', 'strike=high'], '“high” is no number'],
    ['a parameter given twice', ['--set', 'bite=0.1', 'bite=0.2'], 'bite twice'],
    ['a value outside its bounds', ['--set', 'kestrels=61'], 'goes from 0 to 60'],
    ['a seed that is none', ['--seed', '-1'], 'whole number'],
    ['a range that goes down', ['--seeds', '9..3'], '1..40'],
    ['an option that does not exist', ['--sed', '3'], '--sed'],
  ];
  for (const [name, args, said] of wrong) {
    it(`refuses ${name}`, () => {
      const { stderr, stdout, status } = vole('run', MEADOW, ...args);
      expect(stderr).toContain(said);
      expect(stdout).toBe('');
      expect(status).not.toBe(0);
    });
  }
});

describe('files', () => {
  const TABLE = `model T\nclock\n  end after 3 steps\nagent Vole\n  start from "Vole.csv"\n  has weight = 1\n  behaviour grow\n    weight += 1\nmeasure m = sum of it.weight over Vole\nrecord Vole: weight every 1 step\nrecord Vole: weight * 2 every 2 steps\n`;
  const place = (name: string): { home: string; model: string; data: string } => {
    const home = join(folder, name);
    mkdirSync(home);
    const model = join(home, 'table.vole');
    const data = join(home, 'Vole.csv');
    writeFileSync(model, TABLE);
    writeFileSync(data, 'weight\n3\n4\n');
    return { home, model, data };
  };

  it('that belong to the model are never written over, with or without --force, by any way that leads to them', () => {
    const { home, model, data } = place('inputs');
    symlinkSync(data, join(home, 'link.csv'));
    for (const args of [
      ['--record', home],
      ['--record', `${home}/.`],
      ['--out', data],
      ['--out', model],
      ['--out', join(home, 'link.csv')],
      ['--out', data, '--force'],
      ['--record', home, '--force'],
    ]) {
      const { stderr, status } = vole('run', model, ...args);
      expect(stderr, args.join(' ')).toMatch(/belongs to the model and is not written over/);
      expect(status).toBe(2);
    }
    expect([readFileSync(model, 'utf8'), readFileSync(data, 'utf8')]).toEqual([TABLE, 'weight\n3\n4\n']);
    expect(readdirSync(home).sort()).toEqual(['Vole.csv', 'link.csv', 'table.vole']);
  });

  it('that are there are replaced only with --force, and as a whole', () => {
    const { home, model } = place('there');
    const out = join(home, 'rows.csv');
    writeFileSync(out, 'mine');
    const refused = vole('run', model, '--out', out);
    expect([refused.status, refused.stderr]).toEqual([
      2,
      expect.stringContaining('is there already; name another file, or say --force') as string,
    ]);
    expect(readFileSync(out, 'utf8')).toBe('mine');
    expect(vole('run', model, '--out', out, '--force').status).toBe(0);
    expect(readFileSync(out, 'utf8')).toMatch(/^run,seed/);
  });

  it('hold each of two records of one kind', () => {
    const { home, model } = place('records');
    expect(vole('run', model, '--record', join(home, 'out')).status).toBe(0);
    expect(readFileSync(join(home, 'out', 'Vole.csv'), 'utf8').split('\n')).toHaveLength(1 + 2 * 4 + 1);
    expect(
      readFileSync(join(home, 'out', 'Vole-2.csv'), 'utf8')
        .split('\n')
        .slice(0, 2),
    ).toEqual(['run,seed,step,Vole,weight * 2', '1,1,0,1,6']);
    expect(readdirSync(join(home, 'out')).sort()).toEqual(['Vole-2.csv', 'Vole.csv']);
  });

  it('that cannot be written leave what was there, and nothing beside it', () => {
    const { home, model } = place('full');
    writeFileSync(model, `${TABLE}${'# a remark that makes the text longer than the limit\n'.repeat(100)}`);
    const before = readFileSync(model, 'utf8');
    const limited = (command: string) =>
      spawnSync('bash', ['-c', `ulimit -f 1; trap '' XFSZ; ${command}`], { encoding: 'utf8' });
    const formatted = limited(`"${process.execPath}" "${VOLE}" format "${model}" --write`);
    expect(formatted.stderr).toMatch(
      /cannot be written \(it would be larger than a file may be there\); what was there before is as it was/,
    );
    expect(formatted.status).toBe(2);
    expect(readFileSync(model, 'utf8')).toBe(before);
    for (const [option, path, why] of [
      ['--out', '/dev/full', /cannot be written \(there is no room left on the disk\)/],
      ['--out', home, /is a folder/],
      ['--out', join(home, 'none', 'rows.csv'), /cannot be written \(the folder that it is to be in is not there\)/],
      ['--out', join(home, `${'n'.repeat(250)}.csv`), /cannot be written \(its name is too long\)/],
      ['--record', model, /cannot be made \(there is a file of that name\)/],
      ['--record', join(model, 'more'), /cannot be made \(what should be its folder is a file\)/],
    ] as const) {
      const { stderr, status } = vole('run', model, option, path);
      expect(stderr, path).toMatch(/^vole: /m);
      expect(stderr, path).toMatch(why);
      expect(stderr).not.toMatch(/^ {4}at /m);
      expect(status).toBe(2);
    }
    expect(readdirSync(home).sort()).toEqual(['Vole.csv', 'table.vole']);
  });

  it('and pipes that end early or are full end the command in a line, not in a stack', () => {
    const { model } = place('pipes');
    for (const [command, said] of [
      [`check "${model}" | head -0`, /^$/],
      [`run "${model}" --seeds 1..300 | head -1 >/dev/null`, /./],
      [`info "${model}" >/dev/full`, /no room left/],
      [`run "${model}" >/dev/full`, /no room left/],
    ] as const) {
      const { stderr } = spawnSync('bash', ['-c', `"${process.execPath}" "${VOLE}" ${command}`], { encoding: 'utf8' });
      expect(stderr, command).toMatch(said);
      expect(stderr, command).not.toMatch(/^ {4}at |node:/m);
    }
  });

  it('that are no text in UTF-8 are refused, not spoilt', () => {
    const latin = join(folder, 'latin.vole');
    const bytes = Buffer.from('model Ma\xdfe\nmeasure m = 1\n', 'latin1');
    writeFileSync(latin, bytes);
    const { stderr, status } = vole('format', latin, '--write');
    expect(stderr).toMatch(/is no text in UTF-8.*It was not changed/);
    expect(status).toBe(2);
    expect(readFileSync(latin)).toEqual(bytes);
  });

  it('beside a model are read only if they are regular and lie in its folder', () => {
    const { model, data } = place('beside');
    rmSync(data);
    symlinkSync(MEADOW, data);
    expect(vole('check', model).stderr).toMatch(/“Vole.csv” lies outside the folder of the model/);
    rmSync(data);
    execFileSync('mkfifo', [data]);
    expect(vole('check', model).stderr).toMatch(/“Vole.csv” beside the model is no regular file/);
  });

  it('that were being written when the command was broken off are gone', async () => {
    const { home, model } = place('broken');
    writeFileSync(model, TABLE.replace('end after 3', 'end after 3000000'));
    const child = spawn(process.execPath, [VOLE, 'run', model, '--out', join(home, 'rows.csv')]);
    await expect.poll(() => readdirSync(home).some((name) => name.endsWith('.part'))).toBe(true);
    const ended = new Promise((resolve) => child.on('exit', resolve));
    child.kill('SIGTERM');
    await ended;
    expect(readdirSync(home).sort()).toEqual(['Vole.csv', 'table.vole']);
  });
});

describe('a large run', () => {
  it('comes to the same rows with cores that help it, and beside another that takes them', () => {
    const path = file(
      'large.vole',
      'model Large\nclock\n  end after 6 steps\nspace Field: plane 400 by 400, wrapping\nfield scent on Field, cells of 1\n  start uniform(0, 1)\n  spread 30 %\nagent Vole\n  start 60000 anywhere\n  states mood\n    start 900 of Loud, rest Calm\n    Calm\n    Loud\n  behaviour roam\n    turn by normal(0 deg, 40 deg)\n    move by 1\ninteraction wake: a Vole, b Vole\n  within 2\n  where a.mood is Loud and b.mood is Calm\n  chance 0.4\n  b.mood = Loud\norder\n  roam all at once\n  wake all at once\n  scent\nmeasure loud = count Vole where it.mood is Loud\nmeasure eastmost = max of it.x over Vole\nmeasure scented = sum of scent\n',
    );
    const [helped, beside] = [vole('run', path, '--seed', '1'), vole('run', path, '--seeds', '1..8')];
    const rows = helped.stdout.trim().split('\n');
    expect(rows).toHaveLength(8);
    expect(beside.stdout.split('\n').slice(0, 8)).toEqual(rows);
    expect([helped.stderr, helped.status]).toEqual(['', 0]);
  });
});

describe('vole checks', () => {
  const model = (checks: string): string =>
    `model K\nclock\n  step 1 day\n  end after 30 days\nparameter p = 0.5, from 0 to 1\nagent A\n  start 40\n  has v = 0\n  behaviour go\n    if chance(p)\n      v += 1\nmeasure total = sum of it.v over A\n${checks}`;
  it('is green for the example', () => {
    const { stdout, status } = vole('checks', MEADOW);
    expect(stdout).toMatch(/^green {2}Nobody hunts, nobody is taken: last of voles > 0: 20 of 20 runs\n$/);
    expect(status).toBe(0);
  });
  it('holds conditions in every run or a share of them, and means within bounds', () => {
    const path = file(
      'checks.vole',
      model(
        'check Nothing without chance\n  with p = 0, over 5 seeds for 10 days\n  expect last of total is 0 in every run\ncheck Theory\n  over 20 seeds for 10 days\n  expect last of total from 190 to 210\n  expect last of total from 150 to 250 in at least 90 % of runs\n',
      ),
    );
    const { stdout, status } = vole('checks', path);
    expect(stdout).toContain('green  Nothing without chance: last of total is 0: 5 of 5 runs\n');
    expect(stdout).toMatch(
      /green {2}Theory: last of total from 190 to 210: mean \d+\.?\d* of 20 runs; last of total from 150 to 250: 20 of 20 runs\n/,
    );
    expect(status).toBe(0);
  });
  it('is red with the seeds to look at, and ends with 1', () => {
    const { stdout, status } = vole(
      'checks',
      file('red.vole', model('check Wrong\n  over 3 seeds for 10 days\n  expect last of total is 0\n')),
    );
    expect(stdout).toBe('red    Wrong: last of total is 0: 0 of 3 runs; not with seed 1, 2, 3\n');
    expect(status).toBe(1);
  });
});

describe('vole format and info', () => {
  it('formats to standard output, or the file itself', () => {
    const path = file('loose.vole', 'model L\nclock\n      end after   3 steps\nparameter P=1\nmeasure m=p\n');
    const tidy = 'model L\nclock\n  end after 3 steps\nparameter P = 1\nmeasure m = P\n';
    expect(vole('format', path).stdout).toBe(tidy);
    expect(readFileSync(path, 'utf8')).not.toBe(tidy);
    expect(vole('format', path, '--write').status).toBe(0);
    expect(readFileSync(path, 'utf8')).toBe(tidy);
  });
  it('says what a model is made of', () => {
    const { stdout } = vole('info', MEADOW);
    expect(stdout).toContain('clock: a step is 1 day, at most 730 steps');
    expect(stdout).toContain('space Meadow: plane 120 by 120 m, wrapping');
    expect(stdout).toContain(
      'parameter strike = 0.2 per day, from 0 to 1   rate at which a kestrel takes a vole in its sight',
    );
    expect(stdout).toContain('field grass: 60 by 60 cells');
    expect(stdout).toContain('agent Vole: 300 at the start; energy, age, sex; life: Pup, Adult, Nesting');
    expect(stdout).toContain('Kestrel.soar all at once');
  });
  it('says the same to programs, in the units of the text', () => {
    // Levels that charts draw are there to compare with, not measured.
    const dusk = MEADOW.replace('meadow-year', 'dusk');
    expect(vole('run', dusk, '--seed', '1').stdout).toContain('level voles / 4');
    expect(vole('info', dusk).stdout).toMatch(/\nmeasures: (?!.*level voles).*out/);
    const facts = JSON.parse(vole('info', MEADOW, '--json').stdout) as Record<string, unknown>;
    expect(facts).toMatchObject({
      title: 'Meadow year',
      step: { length: 1, unit: 'days' },
      checks: expect.any(Array) as unknown[],
    });
    expect(facts['parameters']).toContainEqual(
      expect.objectContaining({ name: 'strike', type: 'number', value: 0.2, unit: 'per day', min: 0, max: 1 }),
    );
    expect(facts['parameters']).toContainEqual(
      expect.objectContaining({ name: 'breeding', value: 'yes', options: ['no', 'yes'] }),
    );
    expect(facts['kinds']).toContainEqual(
      expect.objectContaining({ name: 'Vole', states: { life: ['Pup', 'Adult', 'Nesting'] } }),
    );
    expect(facts['summaries']).toContainEqual(expect.objectContaining({ name: 'peak_day', unit: 'days' }));
  });
  it('every command shows an example when it is asked for help', () => {
    const commands = [...vole('--help').stdout.matchAll(/^ {2}([a-z]+) (?:\[options\] )?<\w+>/gm)].map(
      ([, name]) => name!,
    );
    expect(commands).toEqual(expect.arrayContaining(['check', 'run', 'study', 'verify', 'info']));
    for (const command of commands) expect(vole(command, '--help').stdout, command).toMatch(/Examples?:\n {2}\S/);
  });
});
