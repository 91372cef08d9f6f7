import { useEffect, useState } from 'react';
import { Navigate } from 'react-router';
import { addDemo } from '../projects/examples.ts';
import { repository, storageProblem } from '../storage/repository.ts';

const DAY = 86_400_000;

/** Opens the project that was open last, on a new machine the demo. */
export function OpeningView() {
  const [target, setTarget] = useState<string>();
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    let isHere = true;
    opening().then(
      (id) => isHere && setTarget(id),
      (error: unknown) => isHere && setProblem(storageProblem(error)),
    );
    return () => {
      isHere = false;
    };
  }, []);
  if (target) return <Navigate to={`/project/${target}/build`} replace />;
  return <p className="p-8 text-lg">{problem ?? 'Opening the meadow ...'}</p>;
}

// React may ask twice; the demo is added once.
let asked: Promise<string> | undefined;

function opening(): Promise<string> {
  asked ??= (async () => {
    await repository.clearAway(Date.now() - DAY);
    const [latest] = await repository.projects();
    return (latest ?? (await addDemo())).id;
  })().finally(() => {
    asked = undefined;
  });
  return asked;
}
