import { useRouteError } from 'react-router';

/** When a view breaks: what happened, what is safe, what to do. */
export function ProblemView() {
  const error = useRouteError();
  const message = error instanceof Error ? error.message : String(error);
  return (
    <main className="mx-auto max-w-xl p-10">
      <h1 className="mb-3 text-2xl">This view stopped</h1>
      <p className="mb-3">It met something it was not made for: {message}</p>
      <p className="mb-6">Your model is stored in this browser up to the last pause in typing. Reload the page, or go to the list of projects.</p>
      <a className="btn-strong mr-3 inline-block" href="/projects">Projects</a>
      <button type="button" className="btn" onClick={() => location.reload()}>Reload</button>
    </main>
  );
}
