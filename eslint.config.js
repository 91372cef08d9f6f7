import js from '@eslint/js';
import hooks from 'eslint-plugin-react-hooks';
import ts from 'typescript-eslint';

const CORE_FORBIDDEN = [
  { name: 'window', message: 'Core has no DOM.' },
  { name: 'document', message: 'Core has no DOM.' },
  { name: 'process', message: 'Core knows no environment.' },
  { name: 'performance', message: 'Core reads no clock.' },
  { name: 'setTimeout', message: 'Core reads no clock.' },
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
      'no-console': 'off',
    },
  },
  {
    files: ['**/*.mjs', '*.js', '*.ts'],
    languageOptions: {
      globals: { process: 'readonly', console: 'readonly', Buffer: 'readonly', URL: 'readonly', document: 'readonly' },
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-restricted-globals': ['error', ...CORE_FORBIDDEN],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Luck is keyed.' },
        { object: 'Date', property: 'now', message: 'Core reads no clock.' },
        ...['exp', 'log', 'sin', 'cos', 'tan', 'pow', 'hypot', 'atan2'].map((property) => ({
          object: 'Math',
          property,
          message: 'Its last bits differ between machines; see engine/math.ts.',
        })),
      ],
    },
  },
  {
    files: ['packages/web/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: { 'react-hooks/rules-of-hooks': 'error', 'react-hooks/exhaustive-deps': 'error' },
  },
);
