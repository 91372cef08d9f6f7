import { DropdownMenu } from 'radix-ui';
import { useContext, useEffect, useRef, useState } from 'react';
import { TakenOf } from '../files/taken-of.ts';
import { useTold } from '../files/use-told.ts';
import type { Film, FilmForm } from './film.ts';
import { FILM_FORMS, savePicture, startFilm } from './film.ts';

/** Films the run, in a form that is chosen first; whoever goes elsewhere meanwhile gets the film so far. */
export function FilmButton() {
  const [film, setFilm] = useState<Film>();
  const [isBusy, setBusy] = useState(false);
  const unsaved = useRef<Film>(undefined);
  const about = useContext(TakenOf)?.lines ?? [];
  const told = useTold();
  const isGone = useRef(false);
  useEffect(() => {
    isGone.current = false;
    return () => {
      isGone.current = true;
      if (unsaved.current) void told(unsaved.current.save);
      unsaved.current = undefined;
    };
  }, [told]);
  const begin = async (form: FilmForm): Promise<void> => {
    const begun = await startFilm(form, about);
    if (isGone.current) return begun.save();
    unsaved.current = begun;
    setFilm(begun);
  };
  const during = (work: () => Promise<void>): void => {
    setBusy(true);
    void told(work).finally(() => setBusy(false));
  };
  if (film)
    return (
      <button
        type="button"
        className="btn"
        aria-pressed
        disabled={isBusy}
        onClick={() =>
          during(async () => {
            setFilm(undefined);
            unsaved.current = undefined;
            await film.save();
          })
        }
      >
        stop and save film
      </button>
    );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="btn" disabled={isBusy}>
        film
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content side="top" className="card z-40 p-1 shadow-lg">
          {FILM_FORMS.map((form) => (
            <DropdownMenu.Item
              key={form}
              className="cursor-pointer rounded px-3 py-1 data-[highlighted]:bg-wash"
              onSelect={() => during(() => begin(form))}
            >
              as {form}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** Saves the space as it is on show. */
export function PictureButton() {
  const about = useContext(TakenOf)?.lines ?? [];
  const told = useTold();
  return (
    <button type="button" className="btn" onClick={() => void told(() => savePicture(about))}>
      picture
    </button>
  );
}
