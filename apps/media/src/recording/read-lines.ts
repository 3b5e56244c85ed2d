import { readFile } from 'node:fs/promises';
import Joi from 'joi';

/** Lines of JSON that a schema knows (JSON Lines); one cut short by a crash is passed over, a file that is not there is empty. */
export async function readLines<T>(path: string, schema: Joi.Schema): Promise<T[]> {
  const text = await readFile(path, 'utf8').catch(() => '');
  return text.split('\n').flatMap((line): T[] => {
    try {
      return [Joi.attempt(JSON.parse(line), schema) as T];
    } catch {
      return [];
    }
  });
}
