import { useEffect, useState } from 'react';
import { whenIdle } from '../session/when-idle.ts';
import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';

export type EditorHelp = typeof import('./editor-help.ts');

/** There from the first time on. */
let known: EditorHelp | undefined;

/** What knows of the meaning of the text, once it is there; the text can be read and changed before. */
export function useEditorHelp(): EditorHelp | undefined {
  const [help, setHelp] = useState(known);
  const dispatch = useAppDispatch();
  useEffect(() => {
    if (known) return;
    let isHere = true;
    whenIdle()
      .then(() => import('./editor-help.ts'))
      .then(
        (loaded) => {
          known = loaded;
          if (isHere) setHelp(loaded);
        },
        () =>
          isHere &&
          dispatch(
            interfaceActions.noticed({
              text: 'Completion and repairs in the text could not be loaded. Is the server running? Reload the page to try again; your text is safe.',
              tone: 'problem',
            }),
          ),
      );
    return () => {
      isHere = false;
    };
  }, [dispatch]);
  return help;
}
