/** What is said while a picture is away: before the first has come, and after. */
export const SLATE_MOMENTS = ['coming', 'back'] as const;
export type SlateMoment = (typeof SLATE_MOMENTS)[number];

export const COMING_WORDS = 'The picture will be here in a moment';
/** Unless the house has its own. */
export const USUAL_SLATE_WORDS = 'We will be right back';

export const SLATE_WORDS_LENGTH = 160;
