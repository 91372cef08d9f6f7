import type {
  AskedStudy,
  Design,
  FinishedKeys,
  ObservedTable,
  Outcome,
  Question,
  RecordedRows,
  RecordQuestion,
} from '@vole/core';
import {
  answerOfRecord,
  answerTo,
  BlockError,
  decodeBlock,
  MatchSearch,
  rankingOver,
  readCsv,
  readMatch,
  StudyResults,
  withOutcomes,
} from '@vole/core';
import { filesBeside } from '../simulation/beside.ts';
import { loadText } from '../simulation/load-text.ts';
import { repository } from '../storage/repository.ts';
import { recordId } from '../storage/schema.ts';

export type AnswerRequest =
  /** Makes a study known, or gives a known one another design. */
  | {
      readonly is: 'open';
      readonly study: string;
      readonly text: string;
      readonly design: Design;
      readonly outcomes: readonly Outcome[];
      readonly parameters: Readonly<Record<string, number>>;
      /** Of a study that looks for what agrees. */
      readonly match?: MatchText;
      /** Whether its blocks are read from storage. */
      readonly stored: boolean;
    }
  | { readonly is: 'add'; readonly study: string; readonly bytes: ArrayBuffer }
  | { readonly is: 'ask'; readonly study: string; readonly question: Question }
  /** About what a record of the model holds of one run. */
  | {
      readonly is: 'ask of a record';
      readonly study: string;
      readonly record: number;
      readonly point: string;
      readonly seed: number;
      readonly question: RecordQuestion;
    }
  /** Which runs are finished. */
  | { readonly is: 'finished'; readonly study: string; readonly summary?: number }
  /** What all other studies are held against from now on. */
  | { readonly is: 'hold'; readonly match: MatchText }
  | { readonly is: 'close'; readonly study: string };

/** The text of a match with its tables by name, as CSV. */
export interface MatchText {
  readonly text: string;
  readonly tables: Readonly<Record<string, string>>;
}

interface OpenStudy {
  asked: AskedStudy | undefined;
  results: StudyResults;
  /** Its own match, or else what is held against it; read when it is asked for first. */
  match: MatchText | undefined;
  matched: AskedStudy | undefined;
  /** Answers since results came last, by question. */
  readonly answers: Map<string, unknown>;
}

/** Holds the results of studies and answers questions about them; it works apart from the page. */
export class AnswerDesk {
  private readonly studies = new Map<string, OpenStudy>();
  private read: ReadRecord | undefined;
  private held: MatchText = { text: '', tables: {} };
  private readonly tables = new Map<string, ObservedTable>();

  async answer(request: AnswerRequest): Promise<unknown> {
    if (request.is === 'open') return this.open(request);
    if (request.is === 'close') return void this.studies.delete(request.study);
    if (request.is === 'hold') return this.hold(request.match);
    const study = this.studies.get(request.study);
    if (!study) throw new Error('The results of this study are no longer at hand.');
    switch (request.is) {
      case 'add':
        study.results.add(decodeBlock(request.bytes).block);
        return study.answers.clear();
      case 'finished':
        return study.results.finished(request.summary) satisfies FinishedKeys;
      case 'ask':
        return this.answered(study, request.question);
      case 'ask of a record':
        return this.ofRecord(study, request);
    }
  }

  private hold(match: MatchText): void {
    this.held = match;
    this.tables.clear();
    for (const study of this.studies.values())
      if (!study.match) {
        study.matched = undefined;
        study.answers.clear();
      }
  }

  private answered(study: OpenStudy, question: Question): unknown {
    const { answers } = study;
    if (!study.asked) throw new Error('The text of this study has errors, so its results cannot be read.');
    // Questions that name a match are asked of the study with what it is held against.
    const asked = 'of' in question || study.match ? this.matched(study, study.asked) : study.asked;
    if (question.is === 'ranking' && question.beside) return this.ranked(asked, question);
    // Tables are large, and a window of one is found quickly: they are not kept.
    if (UNKEPT.includes(question.is)) return answerTo(asked, question);
    const key = JSON.stringify(question);
    if (!answers.has(key)) answers.set(key, answerTo(asked, question));
    return answers.get(key);
  }

  /** A ranking over several studies, not kept, as any of them may have new runs. */
  private ranked(asked: AskedStudy, question: Extract<Question, { is: 'ranking' }>): unknown {
    const beside = (question.beside ?? []).map((id) => this.studies.get(id));
    // One that has not been opened yet, or cannot be read, has no points; its place among the studies stays.
    const studies = beside.map((study) =>
      study?.asked ? this.matched(study, study.asked) : { ...asked, design: NO_DESIGN, results: new StudyResults() },
    );
    return rankingOver([asked, ...studies], question);
  }

  /** A study with what it is held against, which may say nothing of its model: then there is no answer either. */
  private matched(study: OpenStudy, asked: AskedStudy): AskedStudy {
    if (study.matched) return study.matched;
    const { text, tables } = study.match ?? this.held;
    const { loaded } = loadText(asked.text ?? '');
    const { match } = loaded
      ? readMatch(text, { text: asked.text ?? '', files: filesBeside(), loaded }, this.readTables(tables))
      : { match: undefined };
    if (!match) return (study.matched = asked);
    const search =
      study.match && match.search
        ? new MatchSearch(match, asked.plan, (point, seed) => asked.results.outcome(point, seed))
        : undefined;
    return (study.matched = { ...asked, match, ...(search ? { search } : {}) });
  }

  /** Each table is read once; one that cannot be read is none. */
  private readTables(tables: Readonly<Record<string, string>>): ReadonlyMap<string, ObservedTable> {
    return new Map(
      Object.entries(tables).flatMap(([name, csv]) => {
        const table = this.tables.get(csv) ?? readableTable(csv);
        if (table) this.tables.set(csv, table);
        return table ? [[name, table] as const] : [];
      }),
    );
  }

  private async ofRecord(
    { asked }: OpenStudy,
    { study, record, point, seed, question }: Extract<AnswerRequest, { is: 'ask of a record' }>,
  ): Promise<unknown> {
    const plan = asked?.plan;
    if (!plan?.records[record]) throw new Error('The model of this study has no such record.');
    const id = recordId(study, record, point, seed);
    if (this.read?.id !== id) {
      const row = await repository.record(id);
      if (!row)
        throw new Error(
          `Of the run with seed ${seed} no record is stored. It may not be finished, or storage is full.`,
        );
      this.read = { id, rows: { width: row.width, data: new Float64Array(row.bytes) } };
    }
    return answerOfRecord(plan, record, this.read.rows, question);
  }

  private async open({
    study: id,
    text,
    design,
    outcomes,
    parameters,
    match,
    stored,
  }: Extract<AnswerRequest, { is: 'open' }>): Promise<void> {
    const results = this.studies.get(id)?.results ?? new StudyResults();
    const plan = withOutcomes(text, filesBeside(), outcomes)?.plan;
    // Known before storage is asked: where that fails, what the page has is still taken.
    this.studies.set(id, {
      asked: plan && { plan, design, results, text, parameters },
      results,
      match,
      matched: undefined,
      answers: new Map<string, unknown>(),
    });
    if (stored) for (const { bytes } of await repository.blocks(id)) addReadable(results, bytes);
  }
}

/** Of a study that has no runs at hand. */
const NO_DESIGN: Design = { is: 'every combination', factors: [], seeds: [] };

/** Rows of a record that were looked at last: most questions follow one another about the same run. */
interface ReadRecord {
  readonly id: string;
  readonly rows: RecordedRows;
}

/** What is damaged is passed over: its runs count as not done, and can be done again. */
function addReadable(results: StudyResults, bytes: ArrayBuffer): void {
  try {
    results.add(decodeBlock(bytes).block);
  } catch (error) {
    if (!(error instanceof BlockError)) throw error;
  }
}

const UNKEPT: readonly Question['is'][] = ['table', 'parquet', 'run table', 'next runs', 'match tables'];

function readableTable(csv: string): ObservedTable | undefined {
  try {
    return readCsv(csv);
  } catch {
    return undefined;
  }
}
