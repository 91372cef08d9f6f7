/** A model with the timeline lines of a scenario laid over it, after its own. @param timeline lines as they stand in a timeline, one after another */
export function textWithTimeline(text: string, timeline: string): string {
  if (timeline === '') return text;
  const lines = timeline.split('\n').map((line) => `  ${line}\n`);
  return `${text.trimEnd()}\n\ntimeline\n${lines.join('')}`;
}
