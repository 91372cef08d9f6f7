import { expect, it } from 'vitest';
import { escapedXml } from './xml.ts';

it('writes whatever a name may have as XML that can be read', () => {
  expect(escapedXml('Dry & "wet" <years>')).toBe('Dry &amp; &quot;wet&quot; &lt;years&gt;');
  expect(escapedXml('a\u0000b\u000Bc\uD800d\uFFFFe')).toBe('a\uFFFDb\uFFFDc\uFFFDd\uFFFDe');
  expect(escapedXml('vole 🐾\t\n')).toBe('vole 🐾\t\n');
});
