// Writes what every route answers as JSON Schema, from the types that its handler returns: the contracts themselves.
import { mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createGenerator } from 'ts-json-schema-generator';
import ts from 'typescript';

const SERVER = 'apps/server/src';
/** Answers that are no JSON of ours. */
const BARE = /^(void|string|StreamableFile|unknown|object)$/;

/** The handlers of a controller with what they return, and what their file imports from the contracts. */
function answersIn(source) {
  const imports = [];
  const answers = [];
  for (const node of source.statements) {
    if (ts.isImportDeclaration(node) && /@heliphon\//.test(node.moduleSpecifier.getText(source))) {
      imports.push({ node, from: node.moduleSpecifier.text });
    }
    if (!ts.isClassDeclaration(node)) continue;
    for (const member of node.members) {
      if (!ts.isMethodDeclaration(member) || !member.type || !ts.getDecorators(member)?.length) continue;
      const type = member.type.getText(source).replace(/^Promise<(.*)>$/s, '$1');
      if (!BARE.test(type)) answers.push({ name: `${node.name.text}_${member.name.getText(source)}`, type });
    }
  }
  const named = imports.flatMap(({ node, from }) => {
    const names = node.importClause?.namedBindings?.elements?.map((element) => element.getText(source)) ?? [];
    return names.map((name) => ({ name: name.replace(/^type /, ''), from }));
  });
  return { answers, named };
}

/** A file of types, one a handler; those with types of the server's own are left out. */
async function typesFile() {
  const files = (await readdir(SERVER, { recursive: true })).filter((name) =>
    name.endsWith('.controller.ts'),
  );
  const lines = [];
  const imported = new Map();
  for (const name of files.sort()) {
    const text = await readFile(join(SERVER, name), 'utf8');
    const { answers, named } = answersIn(
      ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true, ts.ScriptKind.TS),
    );
    const known = new Map(named.map((one) => [one.name, one.from]));
    for (const { name: alias, type } of answers) {
      const used = type.match(/[A-Z]\w+/g) ?? [];
      if (!used.every((word) => known.has(word) || word === 'Record')) continue;
      for (const word of used) if (known.has(word)) imported.set(word, known.get(word));
      lines.push(`export type ${alias} = ${type};`);
    }
  }
  const head = [...imported].map(([word, from]) => `import type { ${word} } from '${from}';`);
  return `${[...head, ...lines].join('\n')}\n`;
}

/** @param {string} target - the JSON file to write */
export async function describeAnswers(target) {
  const folder = join('node_modules', '.cache', 'heliphon-answers');
  await mkdir(folder, { recursive: true });
  const path = join(folder, 'answers.ts');
  await writeFile(path, await typesFile());
  const tsconfig = join(folder, 'tsconfig.json');
  await writeFile(tsconfig, JSON.stringify({ extends: '../../../tsconfig.json', include: ['answers.ts'] }));
  const schema = createGenerator({
    path,
    tsconfig,
    type: '*',
    expose: 'export',
    topRef: true,
    skipTypeCheck: true,
    encodeRefs: false,
    sortProps: false,
  }).createSchema('*');
  const text = JSON.stringify(schema.definitions)
    .replaceAll('#/definitions/', '#/components/schemas/')
    // Names of components hold no brackets (OpenAPI 3.1, "Components Object").
    .replace(/"([^"]*\w)<(\w+)>"/g, '"$1Of$2"');
  await writeFile(target, text);
  await rm(folder, { recursive: true });
}
