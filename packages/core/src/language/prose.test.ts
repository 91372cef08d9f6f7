import { describe, expect, it } from 'vitest';
import { checkModel } from './checker.ts';
import { answersIn, readProse, writeProse } from './prose.ts';

const TEXT =
  'model Pen\n  Voles in a pen.\n\nclock\n  end after 9 steps\nagent Vole\n  start 3\nmeasure n = count Vole\n';

describe('the plan of a model, kept in its prose', () => {
  it('writes answers in the order of the questions, and reads them back', () => {
    let text = writeProse(TEXT, 'Agents', 'Three  voles,\n and nobody else.');
    text = writeProse(text, 'Purpose', 'To try the plan.');
    text = writeProse(text, 'Left out', 'Everything else.');
    expect(text).toBe(
      'model Pen\n  Voles in a pen.\n  Purpose: To try the plan.\n  Agents: Three voles, and nobody else.\n  Left out: Everything else.\n\nclock\n  end after 9 steps\nagent Vole\n  start 3\nmeasure n = count Vole\n',
    );
    expect(checkModel(text).diagnostics.filter((d) => d.severity === 'error')).toEqual([]);
    expect(readProse(text).answers).toMatchObject({
      Purpose: 'To try the plan.',
      Agents: 'Three voles, and nobody else.',
      'Left out': 'Everything else.',
      Process: '',
    });
  });

  it('changes and takes out an answer, also one of several lines', () => {
    const text = TEXT.replace('  Voles in a pen.\n', '  Purpose: To try,\n    and to try again.\n  Process: None.\n');
    expect(readProse(text).answers.Purpose).toBe('To try, and to try again.');
    expect(writeProse(text, 'Purpose', 'Once.')).toBe(
      TEXT.replace('  Voles in a pen.\n', '  Purpose: Once.\n  Process: None.\n'),
    );
    expect(writeProse(text, 'Purpose', ' ')).toBe(TEXT.replace('  Voles in a pen.\n', '  Process: None.\n'));
    expect(writeProse('clock\n', 'Purpose', 'x')).toBe('clock\n');
    expect(readProse(TEXT)).toMatchObject({ opening: 'Voles in a pen.', answers: { Purpose: '' } });
    expect(writeProse(TEXT, 'Sources', 'Made up.')).toContain('  Voles in a pen.\n  Sources: Made up.\n');
  });

  it('says where answers stand, and under which headings', () => {
    const text = 'model Pen\n  Voles in a pen.\n  Purpose: To try it,\n  and more.\n  Left out: All else.\n\nclock\n';
    const found = answersIn(text)!;
    expect(text.slice(found.from, found.to)).toBe('\n  Purpose: To try it,\n  and more.\n  Left out: All else.');
    expect(found.headings).toEqual(['Purpose', 'Left out']);
    expect(answersIn('model Pen\n  Voles in a pen.\nclock\n')).toBeUndefined();
    expect(answersIn('')).toBeUndefined();
  });
});
