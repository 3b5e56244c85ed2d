// Bundles every process with rolldown and the pages with Vite into dist/. Nothing is downloaded.
// `node tooling/build.mjs` builds all, `node tooling/build.mjs keeper` one.
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import { brotliCompress, constants, gzip } from 'node:zlib';
import { rolldown } from 'rolldown';
import { build as buildPages } from 'vite';
import { describeAnswers } from './describe-answers.mjs';

const ENTRIES = {
  keeper: { main: 'apps/keeper/src/main.ts' },
  server: {
    main: 'apps/server/src/main.ts',
    'demo-data': 'apps/server/src/demo/main.ts',
    'check-schema': 'apps/server/src/check-schema.ts',
    'add-house': 'apps/server/src/add-house.ts',
    'manage-nodes': 'apps/server/src/manage-nodes.ts',
    'foreign-reader': 'apps/server/src/foreign/foreign-reader.ts',
  },
  media: {
    main: 'apps/media/src/main.ts',
    'record-film': 'apps/media/src/recording/record-film.ts',
    'srt-listener': 'apps/media/src/srt/srt-listener.ts',
  },
  standins: { main: 'apps/standins/src/main.ts', 'make-film': 'apps/standins/src/film/main.ts' },
};

async function bundle(name) {
  const build = await rolldown({
    input: ENTRIES[name],
    platform: 'node',
    external: (id) => /^(node:|[^./@]|@(?!heliphon|oxc-project))/.test(id),
    tsconfig: 'tsconfig.json',
  });
  await build.write({ dir: `dist/${name}`, format: 'esm', sourcemap: true, cleanDir: true });
  await build.close();
}

/** Beside each asset its packed form, as browsers ask for it: packed once, not for each who asks. */
async function pack(folder) {
  const quality = { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } };
  for (const name of (await readdir(folder)).filter((one) => /\.(js|css|svg)$/.test(one))) {
    const bytes = await readFile(`${folder}/${name}`);
    await writeFile(`${folder}/${name}.br`, await promisify(brotliCompress)(bytes, quality));
    await writeFile(`${folder}/${name}.gz`, await promisify(gzip)(bytes, { level: 9 }));
  }
}

const only = process.argv[2];
for (const name of Object.keys(ENTRIES)) if (!only || only === name) await bundle(name);
if (!only || only === 'server') await describeAnswers('dist/server/answers.json');
if (!only || only === 'web') {
  await buildPages({ root: 'apps/web', configFile: 'apps/web/vite.config.ts', logLevel: 'warn' });
  await pack('dist/web/assets');
}
