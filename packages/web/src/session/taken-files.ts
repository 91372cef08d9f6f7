import type { MapFile, ModelFile } from '@vole/core';
import { fileMark, filesWanted, isMapName, laneNetwork, textToBytes, treeOf } from '@vole/core';
import type { FeedTrips } from '@vole/core/feed';
import { AskedWorker } from '../simulation/asked-worker.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { store } from '../store/store.ts';
import { feedWords, textWithFeed } from './feed-text.ts';
import { putFile } from './files.ts';
import { foundWords, textWithMap } from './map-text.ts';
import { changeText, checkNow } from './session.ts';

/** Files that are taken into the open project, to lie beside its model: maps, transit feeds, tables that the text names. */

export type ReadRequest =
  { readonly text: string } | { readonly feed: Uint8Array<ArrayBuffer>; readonly week: boolean };
export interface MapAnswer {
  readonly file: MapFile;
  /** The same as it is stored. */
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly mark: string;
}
export interface FeedAnswer {
  readonly trips: FeedTrips;
}

/** A file that was read, as it is stored, and its mark. */
interface ReadFile {
  readonly file: ModelFile;
  readonly bytes: Uint8Array<ArrayBuffer>;
  readonly mark: string;
}

/** Largest file that is read; larger ones do not fit into a text. */
const MOST_BYTES = 500_000_000;
/** Reading more than so much takes a while, and is told before. */
const LONG_BYTES = 3_000_000;

const reader = new AskedWorker<ReadRequest>(
  () => new Worker(new URL('../workers/map.worker.ts', import.meta.url), { type: 'module', name: 'map' }),
  'The file could not be read',
);

/** Lets a file be chosen. */
export function chooseFile(): void {
  const chooser = document.createElement('input');
  chooser.type = 'file';
  chooser.onchange = () => {
    const file = chooser.files?.[0];
    if (file) void takeFile(file);
  };
  chooser.click();
}

/** Takes a file into the open project: a map gives the text a space, a feed a line; other files are those that the text names. */
export async function takeFile(file: File): Promise<void> {
  const { id } = store.getState().project;
  if (!id) return;
  if (file.size > LONG_BYTES) say(`Reading “${file.name}” (${(file.size / 1e6).toFixed(0)} MB) ...`, 'plain');
  try {
    if (isMapName(file.name)) await takeMap(file, id);
    else if (/\.zip$/i.test(file.name)) await takeFeed(file, id);
    else await takeTable(file, id);
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    say(`“${file.name}” could not be taken: ${why} Nothing was changed.`, 'problem');
  }
}

function say(text: string, tone: 'plain' | 'problem'): void {
  store.dispatch(interfaceActions.noticed({ text, tone }));
}

async function takeMap(file: File, project: string): Promise<void> {
  const map = (await reader.ask({ text: await textOf(file) })) as MapAnswer;
  const name = await keep(project, file.name, map);
  if (name === undefined) return;
  takeUp((text) => textWithMap(text, name));
  const lanes = laneNetwork(map.file, { allParts: false, inMetres: false, scale: 1 });
  if ('problem' in lanes) say(`“${file.name}” is there. ${lanes.problem} ${lanes.hint}`, 'problem');
  else say(`${file.name}: ${foundWords(lanes)}${whereWords(name)}`, 'plain');
}

/** How agents come to live on a map, where the model has other spaces too. @param name of its file */
function whereWords(name: string): string {
  const spaces = treeOf(store.getState().project.text).parts.flatMap((part) => (part.is === 'space' ? [part] : []));
  const space = spaces.find(({ map }) => map?.file.name === name);
  return space && spaces.length > 1 ? ` Write “on ${space.name.text}” after the name of a kind that lives there.` : '';
}

async function takeFeed(file: File, project: string): Promise<void> {
  const space = treeOf(store.getState().project.text).parts.find((part) => part.is === 'space' && part.map);
  if (space?.is !== 'space')
    throw new Error('Its vehicles need a map along whose lanes they go: drop one first (.osm or .geojson).');
  refuseLarge(file);
  // Where the clock knows of weekdays, trips run on theirs.
  const week = treeOf(store.getState().project.text).parts.some(
    (part) => part.is === 'clock' && part.from !== undefined,
  );
  const { trips } = (await reader.ask({ feed: new Uint8Array(await file.arrayBuffer()), week })) as FeedAnswer;
  const table = file.name.replace(/\.zip$/i, '.csv');
  const name = await keep(project, table, readText(trips.table));
  if (name === undefined) return;
  takeUp((text) => textWithFeed(text, space.name.text, name));
  say(`${file.name}: ${feedWords(trips)}`, 'plain');
}

async function takeTable(file: File, project: string): Promise<void> {
  const wanted = filesWanted(treeOf(store.getState().project.text));
  if (!wanted.includes(file.name)) {
    const named = wanted.length > 0 ? ` It names ${wanted.join(', ')}.` : '';
    throw new Error(
      `it is no map (.osm, .geojson) and no transit feed (.zip), and the text does not name it.${named} A table is named for example by “start from "voles.csv"”.`,
    );
  }
  const text = await textOf(file);
  if ((await keep(project, file.name, readText(text))) === undefined) return;
  checkNow();
  say(`“${file.name}” lies beside the model now.`, 'plain');
}

function readText(text: string): ReadFile {
  return { file: text, bytes: textToBytes(text), mark: fileMark(text) };
}

/** Keeps a file beside the model. @returns its name as the text writes it; nothing if another project was opened meanwhile, as the file lies with its own */
async function keep(project: string, fileName: string, { file, bytes, mark }: ReadFile): Promise<string | undefined> {
  if (store.getState().project.id !== project) return undefined;
  // The text names it in quotes.
  const name = fileName.replaceAll('"', "'");
  await putFile(project, { name, bytes, mark }, file);
  return store.getState().project.id === project ? name : undefined;
}

/** The text as the new file asks for it; where it stays as it is, it is checked again with the file. */
function takeUp(change: (text: string) => string): void {
  const { text } = store.getState().project;
  const taken = change(text);
  if (taken === text) checkNow();
  else changeText(taken);
}

function refuseLarge({ size }: File): void {
  if (size > MOST_BYTES)
    throw new Error(`It has ${(size / 1e6).toFixed(0)} MB; at most ${MOST_BYTES / 1e6} MB are read.`);
}

async function textOf(file: File): Promise<string> {
  refuseLarge(file);
  const bytes = await file.arrayBuffer();
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new Error('It is no text in UTF-8; save it in UTF-8.');
  }
}
