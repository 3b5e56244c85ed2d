import { Fragment, type ReactNode } from 'react';

/** The places in a sentence: `'One date of {series}'` has `series`. */
type Places<S extends string> = S extends `${string}{${infer Name}}${infer Rest}`
  ? Name | Places<Rest>
  : never;

type SentenceProps<S extends string> = { readonly words: S } & Readonly<Record<Places<S>, ReactNode>>;

/** A sentence of a catalogue with elements, such as a link or a figure in bold, at its `{places}`. */
export function Sentence<S extends string>({ words, ...parts }: SentenceProps<S>) {
  return words
    .split(/\{(\w+)\}/)
    .map((piece, index) => (
      <Fragment key={index}>{index % 2 === 1 ? (parts as Record<string, ReactNode>)[piece] : piece}</Fragment>
    ));
}
