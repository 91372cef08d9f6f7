import { useState } from 'react';

/** A word of a sentence that can be edited in place; it is taken with Enter or when one goes elsewhere, and left with Escape. */
export function EditableWord({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  const [draft, setDraft] = useState<string>();
  const shown = draft ?? value;
  const finish = (): void => {
    if (draft !== undefined && draft !== value) onChange(draft);
    setDraft(undefined);
  };
  return (
    <input
      aria-label={label}
      className="word max-w-full font-title"
      size={Math.max(2, shown.length)}
      value={shown}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setDraft(undefined);
      }}
    />
  );
}
