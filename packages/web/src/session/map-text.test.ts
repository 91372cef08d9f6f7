import { loadModel, readMap } from '@vole/core';
import { expect, it } from 'vitest';
import { NEW_MODEL } from '../storage/new-model.ts';
import { textWithMap } from './map-text.ts';

const MAP =
  '{"type":"Feature","properties":{"kind":"lane"},"geometry":{"type":"LineString","coordinates":[[0,0],[0.01,0]]}}';

it('a map that comes to a model with a space leaves the text right: who lived there goes on living there', async () => {
  const text = textWithMap(NEW_MODEL, 'field.geojson');
  expect(text).toContain('agent Vole on Field\n');
  expect(text).toContain('space Field_2: map from "field.geojson"\n');
  const { diagnostics } = loadModel(text, new Map([['field.geojson', await readMap(MAP)]]));
  expect(diagnostics.filter(({ severity }) => severity === 'error')).toEqual([]);
  // The same map again changes nothing, another one only adds a space.
  expect(textWithMap(text, 'field.geojson')).toBe(text);
  expect(textWithMap(text, 'lanes.osm').replace('space Lanes: map from "lanes.osm"\n', '')).toBe(text);
});

it('a map that comes to a model without a space is the one on which all live', () => {
  const text = textWithMap('model M\nagent Vole\n  start 1 anywhere\n', 'mill lane.osm');
  expect(text).toContain('agent Vole\n  start 1 anywhere\n');
  expect(text).toContain('space Mill: map from "mill lane.osm"\n');
});
