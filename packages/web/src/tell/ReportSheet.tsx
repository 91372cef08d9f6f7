import type { Block, Quotable, Report } from '@vole/core';
import { hasQuotes, mathOfAssignment, placeWords, writeProse } from '@vole/core';
import { memo, useMemo, useState } from 'react';
import { MathFormula } from '../mean-field/MathFormula.tsx';
import { changeText } from '../session/session.ts';
import { useAppSelector } from '../store/store.ts';
import { Findings } from './Findings.tsx';
import { LineOnSheet } from './LineOnSheet.tsx';

interface Props {
  readonly report: Report;
  /** Numbers that its sentences can quote. */
  readonly quotable: readonly Quotable[];
  /** Then nothing in it can be changed. */
  readonly isFrozen: boolean;
}

/** The report as a sheet of paper; places for the modeler's words are filled in where they stand. */
export const ReportSheet = memo(function ReportSheet({ report, quotable, isFrozen }: Props) {
  const { title, sections } = report;
  const numbers = useMemo(() => numbersOf(report), [report]);
  return (
    <article className="printed card mx-auto max-w-3xl px-12 py-9">
      <h1 className="mb-4 text-3xl">{title}</h1>
      {withResults(sections, isFrozen).map((section) => (
        <section key={section.id} id={`report-${section.id}`} aria-label={section.title} className="mb-7 scroll-mt-4">
          <h2 className="mb-2 text-xl">{section.title}</h2>
          {section.id === 'results' && !isFrozen ? (
            <Findings numbers={quotable} />
          ) : (
            section.blocks.map((block, i) => (
              <BlockOnSheet key={i} block={block} number={numbers.get(block)} isFrozen={isFrozen} />
            ))
          )}
        </section>
      ))}
    </article>
  );
});

/** The sections with a place for what came out, also while nothing is said there; it stays the same one when something is. */
function withResults(sections: Report['sections'], isFrozen: boolean): Report['sections'] {
  if (isFrozen || sections.some(({ id }) => id === 'results')) return sections;
  const next = sections.findIndex(({ id }) => AFTER_RESULTS.includes(id));
  const at = next < 0 ? sections.length : next;
  return [...sections.slice(0, at), { id: 'results', title: 'What came out', blocks: [] }, ...sections.slice(at)];
}

const AFTER_RESULTS: readonly string[] = ['observed', 'checks', 'repeat'];

/** Tables and figures by their numbers, each counted from 1 as they stand. */
function numbersOf({ sections }: Report): ReadonlyMap<Block, number> {
  const blocks = sections.flatMap((section) => section.blocks);
  return new Map(
    (['table', 'picture'] as const).flatMap((is) =>
      blocks.filter((block) => block.is === is).map((block, i) => [block, i + 1] as const),
    ),
  );
}

interface BlockProps {
  readonly block: Block;
  /** Of a table or figure. */
  readonly number: number | undefined;
  readonly isFrozen: boolean;
}

function BlockOnSheet({ block, number, isFrozen }: BlockProps) {
  switch (block.is) {
    case 'heading':
      return <h3 className="mt-4 mb-1 text-[16px]">{block.text}</h3>;
    case 'paragraph':
      return (
        <p className="mb-2">
          <LineOnSheet line={block.words} />
        </p>
      );
    case 'list': {
      const items = block.items.map((item, i) => (
        <li key={i}>
          <LineOnSheet line={item} />
        </li>
      ));
      return block.isOrdered ? (
        <ol className="mb-2 list-decimal pl-6">{items}</ol>
      ) : (
        <ul className="mb-2 list-disc pl-6">{items}</ul>
      );
    }
    case 'table':
      return <TableOnSheet table={block} number={number} />;
    case 'listing':
      return (
        <pre className="mb-3 rounded-sm bg-ground px-3 py-2 font-model text-[13px] whitespace-pre-wrap">
          <code>{block.text}</code>
        </pre>
      );
    case 'formulas':
      return (
        <div className="mb-2">
          {block.formulas.map((each, i) => (
            <MathFormula key={i} node={mathOfAssignment(each)} />
          ))}
        </div>
      );
    case 'picture':
      return (
        <figure className="mb-3">
          {/* The picture is one of our own, its words made safe as it was drawn. */}
          <div
            className="rounded-sm bg-[#fffdf7] [&>svg]:h-auto [&>svg]:max-w-full"
            dangerouslySetInnerHTML={{ __html: block.svg }}
          />
          <figcaption className="mt-1 text-sm text-faint">
            <b>Figure {number}.</b> <LineOnSheet line={block.caption ?? []} />
          </figcaption>
        </figure>
      );
    case 'place':
      if (!isFrozen) return <Place key={block.answer} place={block} />;
      return (
        block.answer !== '' && (
          <p className="mb-2">
            <b>{block.heading}.</b> <LineOnSheet line={placeWords(block)} />
          </p>
        )
      );
  }
}

function TableOnSheet({
  table,
  number,
}: {
  readonly table: Extract<Block, { is: 'table' }>;
  readonly number: number | undefined;
}) {
  const side = (column: number): string => (table.numeric?.includes(column) ? 'text-right' : 'text-left');
  return (
    <div className="mb-3 overflow-x-auto">
      <table className="w-full text-[15px]">
        <caption className="caption-bottom pt-1 text-left text-sm text-faint">
          <b>Table {number}.</b> <LineOnSheet line={table.caption ?? []} />
        </caption>
        <thead>
          <tr>
            {table.head.map((name, i) => (
              <th
                key={i}
                scope="col"
                className={`border-b border-line py-1 pr-3 align-bottom font-semibold ${side(i)}`}
              >
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row, i) => (
            <tr key={i} className="border-b border-line">
              {row.map((cell, k) => (
                <td key={k} className={`py-1 pr-3 align-top ${side(k)}`}>
                  <LineOnSheet line={[cell]} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** A place for words of the modeler, which are kept in the prose of the text. */
function Place({ place }: { readonly place: Extract<Block, { is: 'place' }> }) {
  const { heading, asks, answer, waits } = place;
  const text = useAppSelector((state) => state.project.text);
  const [words, setWords] = useState(answer);
  return (
    <label className={`mb-2 block ${answer ? '' : 'print:hidden'}`}>
      <b>{heading}.</b> {waits && <span className="text-sm text-doubt">waits for a sentence of yours</span>}
      <textarea
        aria-label={heading}
        data-waits={waits || undefined}
        rows={1}
        placeholder={asks}
        className="mt-0.5 field-sizing-content w-full rounded-sm border border-line bg-transparent px-2 py-1"
        value={words}
        onChange={(event) => setWords(event.target.value)}
        onBlur={() => words !== answer && changeText(writeProse(text, heading, words))}
      />
      {hasQuotes(answer) && (
        <span className="block border-l-2 border-line pl-3">
          <LineOnSheet line={placeWords(place)} />
        </span>
      )}
    </label>
  );
}
