/** What tabs tell one another of a project: that it was saved, with a name if that alone was changed, or that a file beside its model was. */
export type TabNews =
  | { readonly id: string; readonly revision: number; readonly name?: string }
  | { readonly id: string; readonly file: string };

/** Between the tabs of this browser; what is sent is heard by all others. */
export const tabs = new BroadcastChannel('vole-parade');

export function tellTabs(news: TabNews): void {
  tabs.postMessage(news);
}
