import { compilePlan, runCheck } from '@vole/core';
import { takingFiles } from '../simulation/beside.ts';
import { loadText } from '../simulation/load-text.ts';
import type { ChecksReply } from '../checks/checks-run.ts';

/** Runs the checks of a model, one after another, and says each outcome as it is there. */

self.onmessage = takingFiles(({ data: text }: MessageEvent<string>) => {
  const reply = (message: ChecksReply): void => self.postMessage(message);
  const { loaded } = loadText(text);
  if (!loaded) return reply({ is: 'refused' });
  const compiled = compilePlan(loaded.plan);
  for (const check of loaded.plan.checks) reply({ is: 'outcome', outcome: runCheck(compiled, check) });
  reply({ is: 'done' });
});
