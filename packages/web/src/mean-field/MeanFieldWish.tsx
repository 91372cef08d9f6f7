import { Meaning } from '../manual/Meaning.tsx';
import type { MeanFieldAnswer } from '@vole/core';
import { Dialog } from 'radix-ui';
import { MathEquation } from './MathFormula.tsx';

interface Props {
  /** Absent while it is being derived. */
  readonly answer: MeanFieldAnswer | undefined;
  readonly isShown: boolean;
  readonly onShow: (isShown: boolean) => void;
}

/** Whether the well-mixed limit is drawn over the runs, with its equations and why runs may differ from it; or why there is none. */
export function MeanFieldWish({ answer, isShown, onShow }: Props) {
  if (!answer) return null;
  if ('obstacles' in answer)
    return (
      <Explained link="why no mean-field reference?" title="No mean-field reference">
        <p>
          Equations can be derived where states and numbers of agents change by rates, by chances, by exponential or
          gamma durations, and in meetings by “mixing” or with “anyone”. Here these lines stand in the way:
        </p>
        <ul className="mt-2" data-testid="obstacles">
          {answer.obstacles.map(({ line, message }) => (
            <li key={`${line} ${message}`} className="border-t border-line py-1">
              line {line}: {message}
            </li>
          ))}
        </ul>
      </Explained>
    );
  const hasLine = answer.values.some((value) => Number.isFinite(value));
  return (
    <span>
      <label>
        <input
          type="checkbox"
          checked={isShown && hasLine}
          disabled={!hasLine}
          onChange={(event) => onShow(event.target.checked)}
        />{' '}
        mean-field reference
      </label>
      {', '}
      <Explained link="its equations" title="Mean-field reference">
        <p>
          What very many agents would do in very short steps if everybody could meet everybody: luck averages out, and
          these equations are left.
        </p>
        <div className="mt-2" data-testid="equations">
          {answer.equations.map((equation, i) => (
            <MathEquation key={i} equation={equation} />
          ))}
        </div>
        {answer.legend.map((line) => (
          <p key={line} className="text-sm text-faint">
            {line}
          </p>
        ))}
        {answer.problem && (
          <p role="alert" className="mt-2 text-problem">
            With these values they have no solution here: {answer.problem}
          </p>
        )}
        {!hasLine && !answer.problem && (
          <p className="mt-2 text-doubt">What is shown has no value in this limit; choose another measure.</p>
        )}
        {answer.reasons.length > 0 && (
          <>
            <h3 className="mt-3 text-[15px]">Why runs may differ from it</h3>
            <ul className="list-disc pl-5" data-testid="reasons">
              {answer.reasons.map((reason) => (
                <li key={reason}>{reason}</li>
              ))}
            </ul>
          </>
        )}
        <p className="mt-3 text-sm text-faint">
          Solved with the pair of orders five and four of Dormand and Prince (1980); estimated errors stay below one
          part in a hundred million.
        </p>
      </Explained>
      <Meaning of="mean-field-reference" />
    </span>
  );
}

function Explained({
  link,
  title,
  children,
}: {
  readonly link: string;
  readonly title: string;
  readonly children: React.ReactNode;
}) {
  return (
    <Dialog.Root>
      <Dialog.Trigger className="link">{link}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content
          aria-describedby={undefined}
          className="card fixed top-1/2 left-1/2 z-50 max-h-[86vh] w-[min(900px,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-auto p-6"
        >
          <Dialog.Title className="mb-2 text-xl">{title}</Dialog.Title>
          {children}
          <Dialog.Close className="btn mt-4">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
