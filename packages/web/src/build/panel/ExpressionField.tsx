interface Props {
  readonly label: string;
  /** What the list beside it offers, and what that is called. */
  readonly known: readonly { readonly name: string; readonly expression: string }[];
  readonly knownLabel: string;
  readonly value: string;
  readonly onChange: (expression: string) => void;
}

/** An expression of the model language to be typed, or taken from the model. */
export function ExpressionField({ label, known, knownLabel, value, onChange }: Props) {
  return (
    <p className="flex flex-wrap items-baseline gap-x-2">
      <input
        aria-label={label}
        className="word min-w-0 flex-1 font-mono text-sm"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
      {known.length > 0 && (
        <select aria-label={knownLabel} className="word" value="" onChange={(event) => onChange(event.target.value)}>
          <option value="">of the model</option>
          {known.map(({ name, expression }) => (
            <option key={name} value={expression}>
              {name}
            </option>
          ))}
        </select>
      )}
    </p>
  );
}
