import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { expect, it } from 'vitest';

it('everything that core gives to others says what it is', () => {
  const face = fileURLToPath(new URL('../src/index.ts', import.meta.url));
  const program = ts.createProgram([face], {
    allowImportingTsExtensions: true,
    noEmit: true,
    module: ts.ModuleKind.ESNext,
    moduleResolution: ts.ModuleResolutionKind.Bundler,
    target: ts.ScriptTarget.ES2023,
    types: [],
  });
  const checker = program.getTypeChecker();
  const given = checker.getExportsOfModule(checker.getSymbolAtLocation(program.getSourceFile(face)!)!);
  const silent = given
    .map((symbol) => (symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol))
    .filter((symbol) => symbol.getDocumentationComment(checker).length === 0)
    .map(({ name }) => name);
  expect(given.length).toBeGreaterThan(100);
  expect(silent).toEqual([]);
});
