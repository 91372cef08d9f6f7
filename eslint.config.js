import js from '@eslint/js';
import globals from 'globals';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

/** What only a page, a worker or Node has; core has none of it. */
const SURROUNDINGS = Object.keys({ ...globals.browser, ...globals.worker, ...globals.node }).filter(
  (name) =>
    !(name in globals.builtin) && !['name', 'length', 'event', 'origin', 'status', 'parent', 'top'].includes(name),
);
/** Functions whose last bits differ between machines. */
const UNEVEN = [
  'acos',
  'acosh',
  'asin',
  'asinh',
  'atan',
  'atan2',
  'atanh',
  'cbrt',
  'cos',
  'cosh',
  'exp',
  'expm1',
  'hypot',
  'log',
  'log10',
  'log1p',
  'log2',
  'pow',
  'sin',
  'sinh',
  'tan',
  'tanh',
];

export default ts.config(
  { ignores: ['**/dist/**', '**/node_modules/**', '.cache/**'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  {
    rules: {
      '@typescript-eslint/no-non-null-assertion': 'off',
      '@typescript-eslint/consistent-type-imports': ['error', { disallowTypeAnnotations: false }],
      eqeqeq: 'error',
    },
  },
  {
    files: ['**/*.{ts,tsx}'],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      '@typescript-eslint/await-thenable': 'error',
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/no-misused-promises': 'error',
      '@typescript-eslint/no-unnecessary-type-assertion': 'error',
      '@typescript-eslint/only-throw-error': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': [
        'error',
        { considerDefaultExhaustiveForUnions: true, requireDefaultForNonUnion: false },
      ],
    },
  },
  { files: ['**/*.mjs', '*.js'], languageOptions: { globals: { ...globals.node, document: 'readonly' } } },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        ...SURROUNDINGS.map((name) => ({ name, message: 'Core knows no page and no Node.' })),
      ],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Luck is keyed.' },
        { object: 'Date', property: 'now', message: 'Core reads no clock.' },
        ...UNEVEN.map((property) => ({
          object: 'Math',
          property,
          message: 'Its last bits differ between machines; see math.ts.',
        })),
      ],
      'no-restricted-syntax': [
        'error',
        {
          selector: "BinaryExpression[operator='**'], AssignmentExpression[operator='**=']",
          message: 'Its last bits differ between machines; see math.ts.',
        },
      ],
    },
  },
  {
    files: ['packages/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
);
