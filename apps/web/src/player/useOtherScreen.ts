import { type RefObject, useEffect, useState } from 'react';

interface OtherScreen {
  readonly isOn: boolean;
  /** Lets the browser ask which. */
  readonly choose: () => void;
}

/** Another screen that the browser can show the picture on (W3C Remote Playback API). @returns `null` while it knows of none */
export function useOtherScreen(videoRef: RefObject<HTMLVideoElement | null>): OtherScreen | null {
  const [isThere, setThere] = useState(false);
  const [isOn, setOn] = useState(false);
  useEffect(() => {
    // Not each browser has it.
    const remote: RemotePlayback | undefined = videoRef.current?.remote;
    if (!remote) return;
    const follow = (): void => setOn(remote.state !== 'disconnected');
    const names = ['connecting', 'connect', 'disconnect'] as const;
    for (const name of names) remote.addEventListener(name, follow);
    // One that cannot tell may be asked all the same, but would offer what is not there.
    const watching = remote.watchAvailability(setThere).catch(() => null);
    return () => {
      for (const name of names) remote.removeEventListener(name, follow);
      void watching.then((id) => (id === null ? undefined : remote.cancelWatchAvailability(id)));
    };
  }, [videoRef]);
  if (!isThere && !isOn) return null;
  // Closed without a choice: all stays as it was.
  return { isOn, choose: () => void videoRef.current?.remote.prompt().catch(() => undefined) };
}
