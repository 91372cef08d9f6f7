/** Parts of the watch worker that are loaded when the first request needs one of them. */
export { carryOver } from '@vole/core/carry-over';
export { makeKernels } from '@vole/core/kernels';
export { startCrew } from './start-crew.ts';
export { draftOf } from './network-draft.ts';
export { takenText } from './taken-text.ts';
