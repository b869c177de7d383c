/**
 * `npm run strings`: all texts of the product for people, by screen and by module, so that they can
 * be read in one go. The texts of the interface come from its `words.ts`, the others from the
 * sources of core, contract and server.
 */
import { readdirSync, readFileSync } from 'node:fs';
import ts from 'typescript';

/** Files of a folder and the folders in it, by path. */
const filesIn = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .map((file) => `${folder}/${file}`)
    .sort();

for (const file of filesIn('src/ui').filter((f) => f.endsWith('/words.ts'))) {
  const module = (await import(`../${file}`)) as Record<string, unknown>;
  for (const [group, texts] of Object.entries(module)) {
    if (typeof texts !== 'object' || texts === null) continue;
    console.log(`\n## ${file.replace('/words.ts', '')}, ${group}`);
    for (const text of Object.values(texts)) console.log(`- ${String(text).trim()}`);
  }
}

/** Whether a literal is a sentence for people: words with a space, no SQL, no file, no format. */
const isText = (text: string): boolean =>
  /[A-Za-z]{2}.* .*[A-Za-z]/s.test(text) &&
  !/[{}<>]|^\s*(select|insert|update|delete|with)\b/i.test(text);

for (const file of ['src/core', 'src/contract', 'src/server'].flatMap(filesIn)) {
  if (!file.endsWith('.ts') || /migrations|hri-glyphs|identifiers/.test(file)) continue;
  const source = ts.createSourceFile(
    file,
    readFileSync(file, 'utf8'),
    ts.ScriptTarget.Latest,
    true,
  );
  const texts: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isTaggedTemplateExpression(node)) return;
    if (ts.isStringLiteral(node) && isText(node.text)) texts.push(node.text);
    else if (ts.isTemplateExpression(node)) {
      const text = [node.head.text, ...node.templateSpans.map((s) => s.literal.text)].join('…');
      if (isText(text)) texts.push(text);
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  if (texts.length > 0)
    console.log(`\n## ${file}\n${texts.map((t) => `- ${t.trim()}`).join('\n')}`);
}
