import { useEffect, useState } from 'react';
import { Navigate } from 'react-router';
import { addDemo } from '../storage/demo.ts';
import { repository, storageProblem } from '../storage/repository.ts';
import { hasStopped } from '../storage/stopped.ts';

const DAY = 86_400_000;

/** Opens the project that was open last, on a new machine the demo; what stopped when it was open last is only listed. */
export function OpeningView() {
  const [target, setTarget] = useState<string>();
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    let isHere = true;
    opening().then(
      (path) => isHere && setTarget(path),
      (error: unknown) => isHere && setProblem(storageProblem(error)),
    );
    return () => {
      isHere = false;
    };
  }, []);
  if (target) return <Navigate to={target} replace />;
  return <p className="p-8 text-lg">{problem ?? 'Opening the meadow ...'}</p>;
}

// React may ask twice; the demo is added once.
let asked: Promise<string> | undefined;

function opening(): Promise<string> {
  asked ??= (async () => {
    await repository.clearAway(Date.now() - DAY);
    const [latest] = await repository.projects();
    if (latest && hasStopped(latest)) return '/projects';
    return `/project/${(latest ?? (await addDemo())).id}/build`;
  })().finally(() => {
    asked = undefined;
  });
  return asked;
}
