import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import ts from 'typescript';
import { describe, expect, test } from 'vitest';
import { filled } from '../../../src/ui/kit/with-parts';

type Groups = Record<string, Record<string, string>>;
const homes = new Map<string, Groups>();
const files = readdirSync('src/ui', { recursive: true, encoding: 'utf8' })
  .map((file) => `src/ui/${file}`)
  .filter((file) => /\.tsx?$/.test(file));
for (const file of files.filter((f) => f.endsWith('/words.ts')))
  homes.set(file, (await import(/* @vite-ignore */ `../../../${file}`)) as Groups);

/** Numbers of the parts that a text has room for. */
const places = (text: string): number[] =>
  [...new Set([...text.matchAll(/\{(\d+)\}/g)].map((m) => Number(m[1])))].sort((a, b) => a - b);

interface Use {
  file: string;
  line: number;
  key: string;
  text: string | undefined;
  /** Parts that are given; undefined where the text is used as it is. */
  given: number | undefined;
}
const uses: Use[] = [];
const used = new Set<string>();
for (const file of files) {
  const source = ts.createSourceFile(
    file,
    readFileSync(file, 'utf8'),
    ts.ScriptTarget.Latest,
    true,
  );
  let home: string | undefined;
  let group: string | undefined;
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) && ts.isStringLiteral(node.moduleSpecifier)) {
      const named = node.importClause?.namedBindings;
      if (named && ts.isNamedImports(named))
        for (const one of named.elements)
          if (one.name.text === 'wording') {
            home = join(dirname(file), `${node.moduleSpecifier.text}.ts`);
            group = one.propertyName?.text;
          }
    }
    if (
      home &&
      group &&
      ts.isPropertyAccessExpression(node) &&
      ts.isIdentifier(node.expression) &&
      node.expression.text === 'wording'
    ) {
      const call =
        ts.isCallExpression(node.parent) && node.parent.arguments[0] === node
          ? node.parent
          : undefined;
      const name = call?.expression.getText(source);
      const key = node.name.text;
      used.add(`${home} ${group} ${key}`);
      uses.push({
        file,
        line: source.getLineAndCharacterOfPosition(node.pos).line + 1,
        key,
        text: homes.get(home)?.[group]?.[key],
        given: name === 'withParts' || name === 'filled' ? call!.arguments.length - 1 : undefined,
      });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
}

describe('the texts of the interface', () => {
  test('are many, and each is used by its file', () => {
    expect(uses.length).toBeGreaterThan(2500);
    for (const [home, groups] of homes)
      for (const [group, texts] of Object.entries(groups)) {
        if (typeof texts !== 'object') continue;
        // some of these files have other exports, too
        if (![...used].some((u) => u.startsWith(`${home} ${group} `))) continue;
        for (const key of Object.keys(texts))
          expect([home, group, key, used.has(`${home} ${group} ${key}`)]).toEqual([
            home,
            group,
            key,
            true,
          ]);
      }
  });

  test('are given as many parts as they have room for', () => {
    for (const use of uses) {
      expect([use.file, use.line, use.key, use.text]).not.toContain(undefined);
      const room = places(use.text!);
      expect([use.file, use.line, use.key, room]).toEqual([
        use.file,
        use.line,
        use.key,
        Array.from({ length: use.given ?? 0 }, (_, i) => i + 1),
      ]);
    }
  });

  test('take each part once at its place', () => {
    expect(filled('{2} of {1}, {2}', 'ten', 3)).toBe('3 of ten, 3');
    expect(filled('no part', 'x')).toBe('no part');
    expect(filled('{1}', '{2}')).toBe('{2}');
  });
});
