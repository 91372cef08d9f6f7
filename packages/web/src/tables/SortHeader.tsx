interface Props<K> {
  readonly name: string;
  readonly by: K;
  readonly sort: { readonly by: K; readonly down: boolean } | undefined;
  readonly onSort: (sort: { readonly by: K; readonly down: boolean }) => void;
}

/** The heading of a column; a click puts the table in its order, another one the other way round. */
export function SortHeader<K extends string | number>({ name, by, sort, onSort }: Props<K>) {
  const down = sort?.by === by ? sort.down : undefined;
  return (
    <th className="px-1.5 font-normal" aria-sort={down === undefined ? 'none' : down ? 'descending' : 'ascending'}>
      <button type="button" onClick={() => onSort({ by, down: down === false })}>
        {name}
        {down === undefined ? '' : down ? ' ↓' : ' ↑'}
      </button>
    </th>
  );
}
