/** What is put into a sentence. */
export type Filled = string | number;
