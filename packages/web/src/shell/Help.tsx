import { Dialog } from 'radix-ui';
import { interfaceActions, MANUAL_BEGINNING } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';

const VIEW_HELP: readonly (readonly [string, string])[] = [
  ['Build', 'Write the model. Beside the text a run of exactly this text goes on.'],
  ['Watch', 'See one run: change values, go back to any step, open an agent.'],
  ['Repeat', 'Run many seeds and see whether it is the pattern or luck.'],
  ['Vary', 'Give one or two parameters several values and compare.'],
  ['Match', 'Hold the runs against what was observed.'],
  ['Tell', 'Take the model, its results and figures with you, in one bundle if you like.'],
];
const KEYS: readonly (readonly [string, string])[] = [
  ['Ctrl K', 'find any action'],
  ['Space', 'play and pause (outside the text)'],
  ['.', 'one step (outside the text)'],
  ['Ctrl Space', 'complete a name in the text'],
  ['F1', 'the manual; in the text, at the word under the cursor'],
  ['+  -  0', 'closer, further, whole space (on the picture)'],
  ['arrows', 'move the picture, or the reading line on the ribbon'],
];

export function Help() {
  const dispatch = useAppDispatch();
  return (
    <Dialog.Root open onOpenChange={(next) => dispatch(interfaceActions.helpOpened(next))}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/30" />
        <Dialog.Content className="card fixed top-1/2 left-1/2 z-50 max-h-[85vh] w-[560px] -translate-x-1/2 -translate-y-1/2 overflow-auto p-6">
          <Dialog.Title className="mb-1 text-xl">How this works</Dialog.Title>
          <Dialog.Description className="mb-4 text-faint">
            Six views of one project, in the order of the work. Each is one click away at any time.
          </Dialog.Description>
          <dl className="mb-5 grid grid-cols-[90px_1fr] gap-y-1.5">
            {VIEW_HELP.map(([name, text]) => (
              <div key={name} className="contents">
                <dt className="font-title font-semibold">{name}</dt>
                <dd>{text}</dd>
              </div>
            ))}
          </dl>
          <h3 className="mb-2">Keys</h3>
          <dl className="mb-5 grid grid-cols-[110px_1fr] gap-y-1">
            {KEYS.map(([key, text]) => (
              <div key={key} className="contents">
                <dt className="font-semibold">{key}</dt>
                <dd>{text}</dd>
              </div>
            ))}
          </dl>
          <p className="mb-4 text-faint">
            Everything is kept in this browser, on this machine, and saved at every pause. Hollowmere and its voles are
            made up.
          </p>
          <div className="flex gap-3">
            <button
              type="button"
              className="btn-strong"
              onClick={() => {
                dispatch(interfaceActions.helpOpened(false));
                dispatch(interfaceActions.manualOpened(MANUAL_BEGINNING));
              }}
            >
              Open the manual
            </button>
            <Dialog.Close className="btn">Close</Dialog.Close>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
