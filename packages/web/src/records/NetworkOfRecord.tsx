import { Meaning } from '../manual/Meaning.tsx';
import type { AgentPair, NetworkAnswer, RunKey } from '@vole/core';
import { recordColumns, stepWords } from '@vole/core';
import { useContext, useState } from 'react';
import { TakenOf } from '../files/taken-of.ts';
import { ChartFrame } from '../charts/ChartFrame.tsx';
import { downloadText, fileName } from '../files/download.ts';
import { askRecord } from '../studies/answers.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';
import { ChoiceWord } from '../words/ChoiceWord.tsx';
import { EditableWord } from '../words/EditableWord.tsx';
import { readCount } from '../words/read-count.ts';
import { DegreeChart } from './DegreeChart.tsx';
import { FIGURES, figureWords, spreadWords } from './network-words.ts';
import { NetworkPicture } from './NetworkPicture.tsx';
import type { RecordPart } from './RecordsView.tsx';
import { useRecord, useRecordOfEach } from './use-record.ts';

interface Props extends RecordPart {
  readonly pairs: readonly AgentPair[];
  /** All finished runs, over which each figure has its spread. */
  readonly others: readonly RunKey[];
}

/** The network of who met whom within a stretch of time: its picture, its figures in this run and over all, its degrees, and files of it. */
export function NetworkOfRecord({ plan, record, run, steps, title, pairs, others }: Props) {
  const of = useContext(TakenOf);
  const columns = recordColumns(plan, plan.records[record]!);
  const pairName = ({ first, second }: AgentPair): string => `${columns[first]!.name} and ${columns[second]!.name}`;
  const [pair, setPair] = useState(pairs[0]!);
  const [directed, setDirected] = useState(false);
  const [fromStep, setFrom] = useState(0);
  const [until, setUntil] = useState<number>();
  const [problem, setProblem] = useState<string>();
  const [overAll, setOverAll] = useState(false);
  const dispatch = useAppDispatch();
  const toStep = until ?? steps;
  const wish = { pair, directed, fromStep, toStep };
  const answered = useRecord(run, { is: 'network', picture: true, ...wish });
  const each = useRecordOfEach(
    overAll ? others.map(({ seed }) => ({ ...run, seed })) : [],
    // Each run is taken to its own end, unless a step was named.
    { is: 'network', picture: false, ...wish, toStep: until ?? Number.MAX_SAFE_INTEGER },
  );
  const stretch =
    fromStep === 0 && until === undefined
      ? 'the whole run'
      : `${stepWords(plan, fromStep)} to ${stepWords(plan, toStep)}`;
  const step =
    (set: (step: number) => void) =>
    (value: string): void => {
      const read = value.trim() === '0' ? 0 : readCount(value, steps, 'A step');
      setProblem(typeof read === 'number' ? undefined : read.problem);
      if (typeof read === 'number') set(read);
    };
  const take = (): void => {
    const about = [...(of?.lines ?? []), `${title}, ${stretch}`];
    askRecord(run, { is: 'graphml', about, ...wish }).then(
      (text) => downloadText(fileName(`${title} network`, 'graphml'), text, 'application/xml'),
      (error: Error) => dispatch(interfaceActions.noticed({ text: error.message, tone: 'problem' })),
    );
  };
  if (!answered) return <p className="card p-4 text-faint">The network is being put together.</p>;
  if ('problem' in answered)
    return (
      <p role="alert" className="card p-4 text-problem">
        {answered.problem}
      </p>
    );
  const { answer } = answered;
  return (
    <div className="flex min-h-0 flex-1 gap-4">
      <ChartFrame
        className="flex-[3]"
        title={`Who met whom: ${title}`}
        note={`${stretch}; size of a dot: ties, colour: community; one run`}
        table={() => [
          ['agent', 'ties', 'community'],
          ...(answer.picture?.nodes ?? []).map(({ name, degree, community }) => [name, degree, community + 1]),
        ]}
      >
        <div className="flex h-full flex-col">
          <p className="flex flex-wrap gap-x-5 text-sm">
            {pairs.length > 1 && (
              <label>
                of{' '}
                <ChoiceWord
                  label="Who meets"
                  value={pairName(pair)}
                  options={pairs.map(pairName)}
                  onChange={(chosen) => setPair(pairs.find((other) => pairName(other) === chosen)!)}
                />
              </label>
            )}
            <span>
              from step <EditableWord label="From step" value={String(fromStep)} onChange={step(setFrom)} /> to{' '}
              <EditableWord label="To step" value={String(toStep)} onChange={step(setUntil)} />
            </span>
            <label className="flex items-center gap-1">
              <input
                type="checkbox"
                className="accent-moss"
                checked={directed}
                onChange={() => setDirected(!directed)}
              />{' '}
              directed
            </label>
            <button type="button" className="link" onClick={take}>
              GraphML
            </button>
          </p>
          {problem && (
            <p role="alert" className="text-sm text-problem">
              {problem}
            </p>
          )}
          <div className="min-h-0 flex-1">
            <NetworkPicture answer={answer} directed={directed} />
          </div>
        </div>
      </ChartFrame>
      <section aria-label="Figures of the network" className="card flex flex-[2] flex-col overflow-auto p-4">
        <h2 className="text-[17px]">
          Its figures <Meaning of="networks-of-meetings" />
        </h2>
        <Figures answer={answer} each={each} />
        <p className="text-sm">
          {overAll ? (
            <span className="text-faint">
              over runs: median, and the range of 90 %; {each.length} of {others.length} worked out
            </span>
          ) : (
            <button type="button" className="link" onClick={() => setOverAll(true)}>
              over all {others.length} runs
            </button>
          )}
          {answer.sources < answer.figures.nodes && (
            <span className="block text-faint">Ways were measured from {answer.sources} of the agents.</span>
          )}
        </p>
        <DegreeChart degrees={answer.degrees} law={answer.law} />
      </section>
    </div>
  );
}

function Figures({ answer, each }: { readonly answer: NetworkAnswer; readonly each: readonly NetworkAnswer[] }) {
  return (
    <table className="w-full">
      <thead className="text-left text-sm text-faint">
        <tr>
          <th className="font-normal">figure</th>
          <th className="text-right font-normal">this run</th>
          {each.length > 0 && <th className="text-right font-normal">over {each.length} runs</th>}
        </tr>
      </thead>
      <tbody>
        {FIGURES.filter(({ key }) => key !== 'reciprocity' || !Number.isNaN(answer.figures.reciprocity)).map(
          ({ key, name, about }) => (
            <tr key={key} className="border-t border-line" title={about}>
              <td>{name}</td>
              <td className="text-right font-semibold">{figureWords(answer.figures[key])}</td>
              {each.length > 0 && (
                <td className="text-right text-sm text-faint">
                  {spreadWords(each.map(({ figures }) => figures[key]))}
                </td>
              )}
            </tr>
          ),
        )}
      </tbody>
    </table>
  );
}
