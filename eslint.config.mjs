import a11y from 'eslint-plugin-jsx-a11y';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/**
 * Words that sentences for people do not use, since they make readers read twice. Only texts with a
 * space in them are sentences; a short name in the code may be any word.
 */
const oldWords =
  '([Aa]new|[Bb]esides|[Mm]eanwhile|[Ss]hall|[Ww]hoever|[Ww]hom|of ours|oneself|to be had|(is|are) (told|said)|stands|lies in|comes to|go(es)? by|[Pp]oints? at|for ever|([Ll]eave|left|[Tt]ake|taken|[Tt]hrow|thrown) away|[Mm]end(s|ed)?|in hand)';
const sentence = `/^(?=.*\\s)(.*[^\\w-])?${oldWords}([^\\w-].*)?$/s`;
const message =
  'Say it in everyday words: see “How we write” in CONTRIBUTING.md. A text that is not for people gets an exception with its reason.';
const plainWords = [
  'Literal[value=',
  // SQL and styles are tagged templates
  ':not(TaggedTemplateExpression) > TemplateLiteral > TemplateElement[value.raw=',
  'JSXText[value=',
].map((start) => ({
  selector: `${start}${sentence}]`,
  message,
}));

/** Texts of the interface have a home per feature, so that they can be read in one go. */
const textsInWords = [
  {
    selector:
      ':not(JSXElement[openingElement.name.name=/^(Term|title|option|code)$/]) > JSXText[value=/[A-Za-z]{2}/]',
    message: 'Put texts into `words.ts` of the feature, and parts into them by `withParts`.',
  },
  {
    selector:
      'JSXAttribute[name.name=/^(label|title|alt|aria-label|placeholder)$/] > Literal[value=/[A-Za-z]{2}/]',
    message: 'Put labels into `words.ts` of the feature.',
  },
];

export default tseslint.config(
  { ignores: ['.next/', 'node_modules/', 'bench/node_modules/', 'next-env.d.ts'] },
  ...tseslint.configs.recommended,
  // rules that need types are checked with the types, by oxlint: `.oxlintrc.json`
  {
    ...a11y.flatConfigs.recommended,
    files: ['src/**/*.tsx'],
    rules: {
      ...a11y.flatConfigs.recommended.rules,
      // a field that a person has just opened is where they want to type
      'jsx-a11y/no-autofocus': 'off',
      // what can be scrolled must be reached by the keyboard
      'jsx-a11y/no-noninteractive-tabindex': ['error', { tags: [], roles: ['region', 'group'] }],
      'jsx-a11y/label-has-associated-control': ['error', { controlComponents: ['Area'] }],
    },
  },
  {
    files: ['src/**/*.{ts,tsx}'],
    plugins: { 'react-hooks': hooks },
    rules: {
      'react-hooks/rules-of-hooks': 'error',
      'react-hooks/exhaustive-deps': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      '@typescript-eslint/consistent-type-imports': 'error',
    },
  },
  {
    files: ['src/**/*.tsx'],
    ignores: ['src/ui/kit/link.tsx'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          name: 'next/link',
          message: 'Use `Link` of `ui/kit`, which fetches what is reached for.',
        },
      ],
    },
  },
  {
    files: ['src/**/*.{ts,tsx}'],
    ignores: ['src/server/platform/db/migrations/**'],
    rules: { 'no-restricted-syntax': ['error', ...plainWords] },
  },
  {
    files: ['src/ui/**/*.tsx'],
    rules: { 'no-restricted-syntax': ['error', ...plainWords, ...textsInWords] },
  },
  {
    files: ['src/server/**/*.ts', 'src/core/**/*.ts'],
    ignores: ['src/server/platform/clock.ts', 'src/server/platform/db/migrations/**'],
    rules: {
      // the time is asked of `clock`, which a test sets, and handed to the core
      'no-restricted-syntax': [
        'error',
        ...plainWords,
        {
          selector: "NewExpression[callee.name='Date'][arguments.length=0]",
          message: 'Ask `clock.date()`.',
        },
        {
          selector: "MemberExpression[object.name='Date'][property.name='now']",
          message: 'Ask `clock.now()`; measure spans by `performance.now()`.',
        },
        {
          selector:
            "CallExpression[callee.property.name='execute'][callee.object.callee.property.name='transaction'] > ArrowFunctionExpression CallExpression > Identifier[name='db']",
          message:
            'A second connection inside a transaction waits for the first one, for ever under load. Hand on `tx`, or `joined(tx)` to what begins a transaction of its own.',
        },
      ],
    },
  },
  { files: ['**/*.cjs'], rules: { '@typescript-eslint/no-require-imports': 'off' } },
  {
    rules: {
      // codes hold control characters, and separate their fields by them
      'no-control-regex': 'off',
      // the formatter breaks code and leaves comments as they are
      'max-len': [
        'error',
        { code: 10_000, comments: 100, ignoreUrls: true, ignorePattern: 'eslint-|prettier-ignore' },
      ],
    },
  },
  { rules: { 'no-console': 'off', eqeqeq: 'error', 'prefer-const': 'error' } },
);
