import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import { makeFilm } from './make-film.js';
import { BOAT_SVG, LIGHTS, sceneSvg } from './scene.js';

const [film, posters] = process.argv.slice(2);
if (!film || !posters) throw new Error('Usage: make-film FILM.flv POSTERS_FOLDER');

await mkdir(posters, { recursive: true });
for (const [name, light] of Object.entries(LIGHTS)) {
  const boat = { input: Buffer.from(BOAT_SVG), left: 950, top: 392 };
  const picture = sharp(Buffer.from(sceneSvg(light)))
    .composite([boat])
    .jpeg({ quality: 90 });
  await writeFile(join(posters, `${name}.jpg`), await picture.toBuffer());
}
await makeFilm(film);
