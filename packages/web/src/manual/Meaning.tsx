import { interfaceActions } from '../store/interface-slice.ts';
import { useAppDispatch } from '../store/store.ts';

/** Leads from the heading of a result to what its numbers mean, and when they mislead. @param of heading in docs/manual/statistics.md, as links name it */
export function Meaning({ of }: { readonly of: string }) {
  const dispatch = useAppDispatch();
  return (
    <button
      type="button"
      aria-label="What this means"
      title="What this means, and when it misleads"
      className="ml-1.5 inline-block h-[18px] w-[18px] rounded-full border border-line align-middle text-[12px] leading-none font-normal text-faint hover:text-ink print:hidden"
      onClick={() => dispatch(interfaceActions.manualOpened({ section: `statistics#${of}` }))}
    >
      ?
    </button>
  );
}
