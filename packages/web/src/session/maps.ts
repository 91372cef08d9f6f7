import type { MapFile } from '@vole/core';
import { isMapName, laneNetwork, MAP_ENDINGS } from '@vole/core';
import { AskedWorker } from '../simulation/asked-worker.ts';
import { filesBeside, putBeside } from '../simulation/beside.ts';
import { repository, storageProblem } from '../storage/repository.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { projectActions } from '../store/project-slice.ts';
import { store } from '../store/store.ts';
import { foundWords, textWithMap } from './map-text.ts';
import { changeText, checkNow } from './session.ts';

/** Maps beside the model of the open project. */

export interface MapRequest {
  readonly text: string;
}
export interface MapAnswer {
  readonly file: MapFile;
  /** The same as it is stored. */
  readonly bytes: Uint8Array<ArrayBuffer>;
}

/** Largest file that is read; larger ones do not fit into a text. */
const MOST_BYTES = 500_000_000;

const reader = new AskedWorker<MapRequest>(
  () => new Worker(new URL('../workers/map.worker.ts', import.meta.url), { type: 'module', name: 'map' }),
  'The map could not be read',
);

/** Lets a map file be chosen. */
export function chooseMap(): void {
  const chooser = document.createElement('input');
  chooser.type = 'file';
  chooser.accept = MAP_ENDINGS.join(',');
  chooser.onchange = () => {
    const file = chooser.files?.[0];
    if (file) void bringMap(file);
  };
  chooser.click();
}

/** Takes a map file into the open project and gives the text a space of it, unless it has one. */
export async function bringMap(file: File): Promise<void> {
  const say = (text: string, tone: 'plain' | 'problem'): void =>
    void store.dispatch(interfaceActions.noticed({ text, tone }));
  const { id } = store.getState().project;
  if (!id) return;
  if (!isMapName(file.name)) {
    say(`“${file.name}” is no map: those are OSM XML (.osm) or GeoJSON (.geojson). Nothing was changed.`, 'problem');
    return;
  }
  let map: MapAnswer;
  try {
    map = (await reader.ask({ text: await textOf(file) })) as MapAnswer;
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error);
    say(`“${file.name}” could not be taken: ${why} Nothing was changed.`, 'problem');
    return;
  }
  if (store.getState().project.id !== id) return;
  // The text names it in quotes.
  const name = file.name.replaceAll('"', "'");
  putBeside(new Map(filesBeside()).set(name, map.file));
  try {
    await repository.keepFile(id, name, map.bytes);
  } catch (error) {
    store.dispatch(projectActions.storageFailed(storageProblem(error)));
  }
  // Another project may have been opened meanwhile; the map lies with its own.
  if (store.getState().project.id !== id) return;
  const { text } = store.getState().project;
  const taken = textWithMap(text, name);
  if (taken === text) checkNow();
  else changeText(taken);
  const lanes = laneNetwork(map.file, { allParts: false, inMetres: false, scale: 1 });
  if ('problem' in lanes) say(`“${file.name}” is there. ${lanes.problem} ${lanes.hint}`, 'problem');
  else say(`${file.name}: ${foundWords(lanes)}`, 'plain');
}

async function textOf(file: File): Promise<string> {
  if (file.size > MOST_BYTES)
    throw new Error(`It has ${(file.size / 1e6).toFixed(0)} MB; at most ${MOST_BYTES / 1e6} MB are read.`);
  const bytes = await file.arrayBuffer();
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new Error('It is no text in UTF-8; save it in UTF-8.');
  }
}
