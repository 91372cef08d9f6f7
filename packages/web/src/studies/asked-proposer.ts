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

  async more(): Promise<boolean> {
    this.tell();
    this.jobs = [...(await askStudy(this.study, { is: 'next runs' }))];
    return this.jobs.length > 0;
  }
}
