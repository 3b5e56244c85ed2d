import { ApiError } from '../../data/api.js';

const MOST_BYTES = 200_000;

/** What JSON has in a chosen file. @throws ApiError as the server would say it, with the line where it goes wrong */
export async function readLanguageFile(file: Blob): Promise<object> {
  if (file.size > MOST_BYTES) throw wrong('language-too-large');
  const text = await file.text();
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw wrong('language-not-json', { line: lineOf(text, error) });
  }
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw wrong('language-no-file');
  return value;
}

const wrong = (code: string, params: Readonly<Record<string, number>> = {}): ApiError =>
  new ApiError(422, { type: 'about:blank', status: 422, title: '', code, params });

/** Browsers say at which character, or at which line, they gave up. */
function lineOf(text: string, error: unknown): number {
  const message = error instanceof Error ? error.message : '';
  const line = /line (\d+)/.exec(message);
  if (line) return Number(line[1]);
  const at = /position (\d+)/.exec(message);
  return text.slice(0, at ? Number(at[1]) : text.length).split('\n').length;
}
