import { readdirSync, rmSync, statSync } from 'node:fs';
import { basename, dirname, join, resolve } from 'node:path';
import type { Bundle } from '@vole/core';
import {
  BundleError,
  bundleFiles,
  bundleOfFiles,
  ENGINE_VERSION,
  MOST_BUNDLE_BYTES,
  readBundle,
  tablesNamedIn,
  treeOf,
} from '@vole/core';
import { makeFolder, Output, readBytes, readText } from './files.ts';
import { filesBeside } from './model-file.ts';
import { UsageError } from './usage-error.ts';

/** Bundles as files, and as folders that are kept in their stead. */

/** Reads a bundle, packed or as a folder. @throws UsageError that says what is wrong with it */
export function readBundleAt(path: string): Bundle {
  return refusing(path, () => (isFolder(path) ? readFolder(path) : readBundle(new Uint8Array(bytesOf(path)))));
}

function refusing<T>(path: string, read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof BundleError) throw new UsageError(`${path}: ${error.message}`);
    throw error;
  }
}

export function isFolder(path: string): boolean {
  return statSync(path, { throwIfNoEntry: false })?.isDirectory() === true;
}

function bytesOf(path: string): Buffer {
  const found = statSync(path, { throwIfNoEntry: false });
  if (!found) throw new UsageError(`there is no file or folder ${path}`);
  if (found.size > MOST_BUNDLE_BYTES)
    throw new UsageError(
      `${path} has ${(found.size / 1e6).toFixed(0)} MB; a bundle has at most ${MOST_BUNDLE_BYTES / 1e6} MB`,
    );
  return readBytes(path);
}

/** Folders of a bundle's files; others, such as those that git keeps, are none of it. */
const FOLDERS = ['results', 'runs', 'observed'];

function readFolder(folder: string): Bundle {
  const files: Record<string, Uint8Array> = {};
  let total = 0;
  const read = (from: string, before: string): void => {
    for (const entry of readdirSync(from, { withFileTypes: true })) {
      const path = join(from, entry.name);
      if (entry.isDirectory()) {
        if (before === '' && FOLDERS.includes(entry.name)) read(path, `${entry.name}/`);
      } else if (entry.isFile() && !entry.name.startsWith('.')) {
        const bytes = bytesOf(path);
        total += bytes.length;
        if (total > MOST_BUNDLE_BYTES)
          throw new UsageError(
            `the files in ${folder} have more than ${MOST_BUNDLE_BYTES / 1e6} MB, the most of a bundle`,
          );
        files[before + entry.name] = bytes;
      }
    }
  };
  read(folder, '');
  if ('manifest.json' in files) return bundleOfFiles(files);
  const models = Object.keys(files).filter((name) => name.endsWith('.vole'));
  if (models.length !== 1)
    throw new UsageError(
      `${folder} has no manifest.json, and ${models.length === 0 ? 'no model' : 'several models'} to make a bundle of; name the folder of one model`,
    );
  return ofModel(folder, models[0]!);
}

/** A bundle of a model that never was in one: with its match, and the tables that the match names. */
function ofModel(folder: string, name: string): Bundle {
  const model = readText(join(folder, name));
  const matchPath = join(folder, name.replace(/\.vole$/, '.match'));
  const match = statSync(matchPath, { throwIfNoEntry: false })?.isFile() ? readText(matchPath) : '';
  const tables = tablesNamedIn(match).filter(
    (table) => !/[\\/]/.test(table) && statSync(join(folder, table), { throwIfNoEntry: false })?.isFile(),
  );
  return {
    engine: ENGINE_VERSION,
    project: {
      name:
        treeOf(model).parts.flatMap((part) => (part.is === 'model' ? [part.title] : []))[0] ||
        name.replace(/\.vole$/, ''),
      notes: '',
      ...(match ? { match } : {}),
    },
    model,
    files: Object.fromEntries(
      [...filesBeside(join(folder, name), model)].map(([file, place]) => [file, readText(place)]),
    ),
    studies: [],
    observed: tables.map((table) => ({ name: table, csv: readText(join(folder, table)) })),
    tables: {},
  };
}

/**
 * Writes a bundle as a folder: each file whole or not at all, the manifest last.
 * @param force whether the bundle that is there is replaced: files of it that this one does not have are removed, and nothing else
 * @throws UsageError
 */
export function writeFolder(bundle: Bundle, folder: string, force: boolean): readonly string[] {
  const files = refusing(folder, () => bundleFiles(bundle));
  const before = filesBefore(folder, force);
  const paths = Object.keys(files).sort((a, b) => Number(a === 'manifest.json') - Number(b === 'manifest.json'));
  for (const path of paths) {
    const target = join(folder, path);
    makeFolder(dirname(target));
    const output = new Output(target, { inputs: [], force });
    output.write(files[path]!);
    output.finish();
  }
  for (const path of before) if (!(path in files)) rmSync(join(folder, path), { force: true });
  return paths;
}

/** The files of the bundle in a folder that is to be written to; none if it is empty. @throws UsageError if something else is there, or may not be replaced */
function filesBefore(folder: string, force: boolean): readonly string[] {
  const there = statSync(folder, { throwIfNoEntry: false });
  if (there && !there.isDirectory()) throw new UsageError(`${folder} is no folder`);
  if (!there || readdirSync(folder).every((name) => name.startsWith('.'))) return [];
  if (!force)
    throw new UsageError(`${folder} is not empty; name another folder, or say --force to replace the bundle in it`);
  if (!readdirSync(folder).includes('manifest.json'))
    throw new UsageError(`${folder} holds other files and no bundle that could be replaced; name another folder`);
  return Object.keys(bundleFiles(readBundleAt(folder)));
}

/** Where a folder is packed to if nobody says so. */
export function packedName(folder: string): string {
  return `${basename(resolve(folder))}.voleparade`;
}
