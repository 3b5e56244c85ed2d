/** What is said while a picture is away: before the first has come, and after. */
export const SLATE_MOMENTS = ['coming', 'back'] as const;
export type SlateMoment = (typeof SLATE_MOMENTS)[number];

export const SLATE_WORDS_LENGTH = 160;
