import alarmRelay from '../../../../examples/alarm-relay.vole?raw';
import dusk from '../../../../examples/dusk.vole?raw';
import groomingCircle from '../../../../examples/grooming-circle.vole?raw';
import hedgerows from '../../../../examples/hedgerows.vole?raw';
import paradeDay from '../../../../examples/parade-day.vole?raw';
import runways from '../../../../examples/runways.vole?raw';
import whistleMatch from '../../../../examples/whistle-craze.match?raw';
import whistleCraze from '../../../../examples/whistle-craze.vole?raw';
import whistleCounts from '../../../../examples/whistle-craze-counts.csv?raw';
import type { Example } from '../storage/demo.ts';

/** Examples besides the demo, each in a sentence; each opens as a copy. */
export const EXAMPLES: readonly (Example & { readonly about: string })[] = [
  {
    name: 'Whistle craze',
    about: 'A new call spreads through the colony, and tires.',
    text: whistleCraze,
    match: { text: whistleMatch, table: 'whistle-craze-counts.csv', csv: whistleCounts },
  },
  { name: 'Alarm relay', about: 'How far does a warning get through the tunnels?', text: alarmRelay },
  { name: 'Runways', about: 'Twenty thousand voles tread paths, and follow them.', text: runways },
  { name: 'Dusk', about: 'Who leaves cover, when owls are near and others are out?', text: dusk },
  { name: 'Hedgerows', about: 'Walls with gaps: how fast is the far side reached?', text: hedgerows },
  {
    name: 'Parade day',
    about: 'On foot or by ferry to the parade: who is there in time?',
    text: paradeDay,
    map: {
      name: 'hollowmere.osm',
      text: async () => (await import('../../../../examples/hollowmere.osm?raw')).default,
    },
  },
  { name: 'Grooming circle', about: 'Who grooms whom, and the bonds that come of it.', text: groomingCircle },
];
