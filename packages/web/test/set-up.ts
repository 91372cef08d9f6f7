import { PATIENCE } from './patience.ts';

// Tests with a document find what comes to be shown as patiently as `eventually` waits.
if ('document' in globalThis) {
  const { configure } = await import('@testing-library/react');
  configure({ asyncUtilTimeout: PATIENCE });
}
