/** What the check found: where the fault lies, what it is, and what to do. */
export type CheckResult =
  { readonly side: 'none'; readonly words: string } | { readonly side: 'us' | 'you'; readonly words: string };

interface CheckFacts {
  /** The house says that no picture is coming in. */
  readonly isPictureAway: boolean;
  readonly state: 'planned' | 'doors' | 'air' | 'kept' | 'cancelled';
  /** The picture's address answered within a few seconds; `null` where there is nothing to play. */
  readonly didMediaAnswer: boolean | null;
  readonly didServerAnswer: boolean;
  /** Bits per second with which the picture came; `null` where that was not measured. */
  readonly downloadBps: number | null;
  readonly isMuted: boolean;
  readonly volume: number;
  readonly isPlaying: boolean;
  /** The viewer left the picture out. */
  readonly isSoundOnly: boolean;
}

/** A picture of 720p with sound needs about this. */
const NEEDED_BPS = 3_500_000;

/** Says whether it is us or them, from what was found; the first thing that explains it. */
export function judge(facts: CheckFacts, complaint: 'picture' | 'sound'): CheckResult {
  if (facts.state === 'planned' || facts.state === 'doors')
    return { side: 'none', words: 'It has not begun yet. It starts by itself; stay on this page.' };
  if (facts.state === 'cancelled') return { side: 'none', words: 'This event does not take place.' };
  if (!facts.didServerAnswer && facts.didMediaAnswer !== true)
    return {
      side: 'you',
      words: 'Your device does not reach us. Other pages will not load either: look at your Wi-Fi or cable.',
    };
  if (facts.didMediaAnswer === null)
    return { side: 'us', words: 'We have no picture for this event. There is nothing wrong at your side.' };
  if (facts.isPictureAway)
    return {
      side: 'us',
      words: 'The picture does not reach us just now. We are getting it back; you need do nothing.',
    };
  if (!facts.didMediaAnswer)
    return {
      side: 'us',
      words: 'The page answers, the picture does not. Wait a minute; if it stays away, load the page again.',
    };
  if (complaint === 'sound') {
    if (facts.isMuted || facts.volume === 0)
      return { side: 'you', words: 'The sound is off in the player. Press “Turn the sound on”.' };
    return {
      side: 'you',
      words:
        'Sound leaves the player. Turn your device up, look whether headphones are plugged in, and whether this tab is muted.',
    };
  }
  if (facts.isSoundOnly)
    return {
      side: 'you',
      words: '“Sound only” is chosen. Choose “Picture and sound” in its place, below the picture.',
    };
  if (facts.downloadBps !== null && facts.downloadBps < NEEDED_BPS)
    return {
      side: 'you',
      words:
        'Your connection is slow just now, so the picture stumbles. Go nearer to the Wi-Fi, close other videos, or choose “Sound only” below the picture.',
    };
  if (!facts.isPlaying) return { side: 'you', words: 'The picture is stopped. Press Play.' };
  return {
    side: 'none',
    words:
      'We send a picture and it reaches you. If you see none, load the page again, or try another browser.',
  };
}
