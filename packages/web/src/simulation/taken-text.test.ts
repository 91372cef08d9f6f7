import { compilePlan, loadModel, Run } from '@vole/core';
import Graph from 'graphology';
import graphml from 'graphology-graphml';
import { expect, it } from 'vitest';
import { takenText } from './taken-text.ts';

const TEXT = `model Taken
space Field: plane 20 m by 10 m, wrapping
field grass on Field, cells of 5 m
  start x / 2
agent Vole
  start 3 anywhere
  states life
    start 1 of Adult, rest Pup
    Pup
    Adult
agent Owl
  start 1 anywhere
network Hunts ties Owl to Vole, directed: random, mean degree 1
  has worth = 2 m
  has sure = yes
measure m = count Vole
`;

function executable() {
  const { plan } = loadModel(TEXT).loaded!;
  const made = compilePlan(plan).executable();
  new Run(
    made,
    plan.parameters.map((p) => p.value),
    1,
  );
  return made;
}

it('a field is written so that a model reads it as it was, with the length of its cells', () => {
  const run = executable();
  const text = takenText(run, { what: 'field', index: 0, about: [] })!;
  expect(text.split('\n').slice(0, 6)).toEqual([
    'ncols 4',
    'nrows 2',
    'xllcorner 0',
    'yllcorner 0',
    'cellsize 5',
    'NODATA_value -9999',
  ]);
  const reading = TEXT.replace('start x / 2', 'start from "grass.asc"');
  const { check } = loadModel(reading, new Map([['grass.asc', text]]));
  const [raster] = [...check.model!.rasters.values()];
  expect(raster!.values).toEqual([...run.state.fields[0]!.values]);
  expect(new Set(raster!.values).size).toBe(4);
});

it('a network is read by another program with its directions, states and values in their units', () => {
  const run = executable();
  const text = takenText(run, { what: 'network', index: 0, about: ['seed 1'] })!;
  const graph = graphml.parse(Graph, text);
  expect(graph.type).toBe('directed');
  expect(graph.nodes().sort()).toEqual(['Owl 1', 'Vole 1', 'Vole 2', 'Vole 3']);
  expect(graph.mapNodes((node, { life }) => `${node} ${life}`).sort()).toEqual([
    'Owl 1 ',
    ...[...run.state.agents(0).states(0)].map((state, i) => `Vole ${i + 1} ${state === 1 ? 'Adult' : 'Pup'}`),
  ]);
  expect(graph.filterNodes((_, { life }) => life === 'Adult')).toHaveLength(1);
  const ties = graph.mapEdges((_, attributes, from, to) => ({ from, to, attributes }));
  expect(ties.length).toBe(run.state.ties(0).count);
  expect(ties.length).toBeGreaterThan(0);
  for (const { from, to, attributes } of ties) {
    expect([from, to[0]]).toEqual(['Owl 1', 'V']);
    expect(attributes).toEqual({ 'worth [m]': 2, sure: 'yes' });
  }
});

it('of what a model does not have there is nothing', () => {
  expect(takenText(executable(), { what: 'field', index: 1, about: [] })).toBeUndefined();
  expect(takenText(executable(), { what: 'network', index: 3, about: [] })).toBeUndefined();
});
