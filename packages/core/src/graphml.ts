import { escapedXml } from './xml.ts';

/** A value that a node or a tie has, by the name of its column: words or a number. */
type GraphValues = readonly (string | number)[];

/** A network with what is known of its nodes and ties. */
export interface GraphTable {
  readonly directed: boolean;
  /** Names of what is known of each node, and of each tie. */
  readonly nodeColumns: readonly string[];
  readonly tieColumns: readonly string[];
  readonly nodes: readonly { readonly name: string; readonly values: GraphValues }[];
  /** Ends as places in `nodes`. */
  readonly ties: readonly { readonly from: number; readonly to: number; readonly values: GraphValues }[];
}

/**
 * A network as GraphML 1.0 (U. Brandes et al., Graph Drawing 2001, LNCS 2265, 501-512).
 * @param about what it is of, a line each, as comments
 */
export function graphmlOf(graph: GraphTable, about: readonly string[]): string {
  const { directed, nodes, ties, nodeColumns, tieColumns } = graph;
  const nodeKeys = keysOf('node', nodeColumns, nodes);
  const tieKeys = keysOf('edge', tieColumns, ties);
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    ...about.map((line) => `<!-- ${escapedXml(line).replace(/-(?=-)/g, '- ')} -->`),
    '<graphml xmlns="http://graphml.graphdrawing.org/xmlns">',
    ...nodeKeys.lines,
    ...tieKeys.lines,
    `  <graph edgedefault="${directed ? 'directed' : 'undirected'}">`,
    ...nodes.map(({ name, values }) => `    <node id="${escapedXml(name)}">${nodeKeys.data(values)}</node>`),
    ...ties.map(
      ({ from, to, values }) =>
        `    <edge source="${escapedXml(nodes[from]!.name)}" target="${escapedXml(nodes[to]!.name)}">${tieKeys.data(values)}</edge>`,
    ),
    '  </graph>',
    '</graphml>',
    '',
  ].join('\n');
}

function keysOf(
  of: 'node' | 'edge',
  columns: readonly string[],
  rows: readonly { readonly values: GraphValues }[],
): { readonly lines: readonly string[]; readonly data: (values: GraphValues) => string } {
  const key = (c: number): string => `${of}${c}`;
  return {
    lines: columns.map((name, c) => {
      const type = rows.some(({ values }) => typeof values[c] === 'string') ? 'string' : 'double';
      return `  <key id="${key(c)}" for="${of}" attr.name="${escapedXml(name)}" attr.type="${type}"/>`;
    }),
    data: (values) =>
      values
        .map((value, c) => (Number.isNaN(value) ? '' : `<data key="${key(c)}">${escapedXml(numberText(value))}</data>`))
        .join(''),
  };
}

/** Numbers as XML Schema writes doubles. */
function numberText(value: string | number): string {
  if (value === Infinity) return 'INF';
  return value === -Infinity ? '-INF' : String(value);
}
