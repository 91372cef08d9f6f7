import { Worker } from 'node:worker_threads';
import { HelpingCrew } from '../src/javascript/helping.ts';

/** Core, bundled for threads: the configuration of the tests has seen to it that it is there. */
const HELPING = new URL('../dist/helping.mjs', import.meta.url).href;

const THREAD = `
const { parentPort } = require('node:worker_threads');
const held = [];
let take = (message) => held.push(message);
parentPort.on('message', (message) => take(message));
import(${JSON.stringify(HELPING)}).then(({ helpingThread }) => {
  take = helpingThread();
  held.forEach(take);
});
`;

/** A crew of so many threads that help, whatever there is to do, once all of them are ready. */
export async function crewOf(helpers: number): Promise<HelpingCrew> {
  const start = (): Worker[] => Array.from({ length: helpers }, () => new Worker(THREAD, { eval: true }));
  const crew = new HelpingCrew(() => start().map((thread) => (thread.unref(), thread)), 1);
  crew.call();
  while (crew.helpers < helpers) await new Promise((wait) => setTimeout(wait, 5));
  return crew;
}
