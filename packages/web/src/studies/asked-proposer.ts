import type { Proposer, StudyJob } from '@vole/core';
import { askStudy } from './answers.ts';

/** Runs the ones that the answers worker asks for: it holds the search, and all results by which it goes on. */
export class AskedProposer implements Proposer {
  private jobs: StudyJob[] = [];

  /** @param tell gives the worker what has finished since */
  constructor(
    private readonly study: string,
    private readonly tell: () => void,
  ) {}

  next(): StudyJob | undefined {
    return this.jobs.shift();
  }

  private ask(): Promise<readonly StudyJob[]> {
    return askStudy(this.study, { is: 'next runs' });
  }

  async more(): Promise<boolean> {
    this.tell();
    // A worker that broke is replaced, and told everything again, before it is asked the second time.
    this.jobs = [...(await this.ask().catch(() => this.ask()))];
    return this.jobs.length > 0;
  }
}
