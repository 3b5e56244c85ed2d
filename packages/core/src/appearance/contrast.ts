/** What WCAG 2.2 asks for (1.4.3 and 1.4.11): of words, and of edges and marks. */
export const CONTRAST = { words: 4.5, shapes: 3 } as const;
