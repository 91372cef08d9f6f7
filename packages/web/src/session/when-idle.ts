/** A run that goes on leaves the page little idle; what waits for that is done after so many milliseconds anyway. */
const LONGEST_WAIT = 2000;
/** In browsers that do not say when they are idle. */
const SHORT_WAIT = 200;

/** Waits until the page has nothing more to do, as what is not needed for the first view should. */
export function whenIdle(): Promise<void> {
  return new Promise((resolve) => {
    if (typeof requestIdleCallback === 'undefined') setTimeout(resolve, SHORT_WAIT);
    else requestIdleCallback(() => resolve(), { timeout: LONGEST_WAIT });
  });
}
