import type { TableRequest } from '../observed/table-reader.ts';
import type { WorkerReply } from '../simulation/asked-worker.ts';
import { readTable, takeTable } from '../observed/read-table.ts';

/** Reads tables of observed data, so that a long one never holds up the page. */

self.onmessage = ({ data }: MessageEvent<TableRequest & { readonly id: number }>) => {
  const reply = (message: WorkerReply): void => self.postMessage(message);
  try {
    reply({
      id: data.id,
      answer:
        data.is === 'take'
          ? takeTable(data.bytes, data.measures, data.hasCalendar)
          : readTable(data.csv, data.mapping, data.plan),
    });
  } catch (error) {
    reply({ id: data.id, problem: error instanceof Error ? error.message : String(error) });
  }
};
