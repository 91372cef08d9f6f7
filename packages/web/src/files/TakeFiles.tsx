import { Popover } from 'radix-ui';
import { useContext, useRef, useState } from 'react';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { download, fileName } from './download.ts';
import { figureOf, pngOf } from './figure.ts';
import type { PictureSize } from '../store/picture-size.ts';
import { dotsOf, readMeasure } from '../store/picture-size.ts';
import type { TableForm, TableRows } from './table-file.ts';
import { tableFile } from './table-file.ts';
import { TakenOf } from './taken-of.ts';
import { useTold } from './use-told.ts';

interface Props {
  /** What files are called after, and what stands above a figure. */
  readonly title: string;
  readonly note?: string;
  /** Whether a figure stands in the section or figure around this. */
  readonly hasFigure?: boolean;
  /** The numbers, header first; or a file that is made elsewhere. */
  readonly table?: (() => TableRows) | ((form: TableForm) => Promise<Blob>);
}

/** What a section shows as files: its figure as PNG and SVG, its numbers as CSV and Parquet. */
export function TakeFiles({ title, note = '', hasFigure = false, table }: Props) {
  const root = useRef<HTMLSpanElement>(null);
  const source = useContext(TakenOf);
  const size = useAppSelector((state) => state.interface.pictureSize);
  const told = useTold();
  const figure = (width: number) =>
    figureOf(
      root.current!.closest('section, figure')!,
      { title, note: [note, source?.words, source?.stale].filter(Boolean).join('; '), about: source?.lines ?? [] },
      width,
    );
  const takePng = (): void =>
    void told(async () => download(fileName(title, 'png'), await pngOf(await figure(size.width), size)));
  const takeSvg = (): void =>
    void told(async () => {
      const { text } = await figure(size.width);
      download(fileName(title, 'svg'), new Blob([text], { type: 'image/svg+xml;charset=utf-8' }));
    });
  const takeTable = (form: TableForm): void =>
    void told(async () => {
      const made = table!(form);
      const file = made instanceof Promise ? await made : await tableFile(form, made, source?.lines ?? []);
      download(fileName(title, form), file);
    });
  const link = (name: string, take: () => void) => (
    <button type="button" className="link" onClick={take}>
      {name}
    </button>
  );
  return (
    <span
      ref={root}
      role="group"
      aria-label={`${title}, as files`}
      className="inline-flex flex-wrap items-baseline gap-x-3"
    >
      {hasFigure && (
        <>
          {link('PNG', takePng)}
          {link('SVG', takeSvg)}
          <SizeOfFigures />
        </>
      )}
      {table && (
        <>
          {link('CSV', () => takeTable('csv'))}
          {link('Parquet', () => takeTable('parquet'))}
        </>
      )}
    </span>
  );
}

/** The size in which figures are saved, to be changed for all of them. */
function SizeOfFigures() {
  const size = useAppSelector((state) => state.interface.pictureSize);
  return (
    <Popover.Root>
      <Popover.Trigger className="link" title="Size of saved figures">
        {size.width} mm
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content side="top" collisionPadding={8} className="card z-40 w-72 p-3 text-sm shadow-lg">
          <p className="mb-1 font-semibold">Saved figures</p>
          <Measured what="width" size={size} label="millimetres wide" />
          <Measured what="density" size={size} label="dots per inch, of a PNG" />
          <p className="mt-1 text-faint">
            That is {dotsAcross(size)} dots across. A figure keeps its shape and its words their share of it.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function dotsAcross(size: PictureSize): string {
  try {
    return dotsOf({ width: 1, height: 1 }, size)[0].toLocaleString('en-GB');
  } catch {
    return 'more than can be drawn:';
  }
}

function Measured({
  what,
  size,
  label,
}: {
  readonly what: keyof PictureSize;
  readonly size: PictureSize;
  readonly label: string;
}) {
  const [draft, setDraft] = useState(String(size[what]));
  const dispatch = useAppDispatch();
  const read = readMeasure(draft, what);
  return (
    <label className="block">
      <input
        className="word w-16"
        inputMode="decimal"
        value={draft}
        onChange={(event) => {
          setDraft(event.target.value);
          const next = readMeasure(event.target.value, what);
          if (typeof next === 'number') dispatch(interfaceActions.pictureSizeSet({ ...size, [what]: next }));
        }}
      />{' '}
      {label}
      {typeof read !== 'number' && (
        <span role="alert" className="block text-problem">
          {read.problem}
        </span>
      )}
    </label>
  );
}
