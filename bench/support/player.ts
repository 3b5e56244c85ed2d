import Hls from 'hls.js/light';
import { PlayerEngine } from '../../apps/web/src/player/engine.js';

/** What the page under measurement can do: play with our player, or with hls.js as it comes. */
Object.assign(window, {
  playOurs: (video: HTMLVideoElement, hls: string) =>
    void new PlayerEngine(video, { changed: () => undefined, denied: () => undefined }, false).play({
      kind: 'live',
      hls,
    }),
  playPlain: (video: HTMLVideoElement, address: string) => {
    const hls = new Hls();
    hls.loadSource(address);
    hls.attachMedia(video);
    void video.play();
  },
});
