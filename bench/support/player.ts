import Hls from 'hls.js/light';
import { PlayerEngine } from '../../apps/web/src/player/engine.js';
import { QuickPicture } from '../../apps/web/src/player/quick-picture.js';

/** As its own script has it, where it was loaded. */
declare const shaka: {
  Player: new () => { attach(video: HTMLVideoElement): Promise<void>; load(address: string): Promise<void> };
};

/** What the page under measurement can do: play with our player, or with hls.js or shaka-player as they come. */
Object.assign(window, {
  playOurs: (video: HTMLVideoElement, hls: string) => {
    const engine = new PlayerEngine(video, { changed: () => undefined, denied: () => undefined }, false);
    // A whole address list is asked for where it is one.
    const main = hls.endsWith('main.m3u8') ? hls : undefined;
    void engine.play({ kind: 'live', hls, main });
    Object.assign(window, { engine });
  },
  playQuick: (video: HTMLVideoElement, address: string) =>
    void new QuickPicture(video, address, { changed: () => undefined, lost: () => undefined }),
  playShaka: async (video: HTMLVideoElement, address: string) => {
    const player = new shaka.Player();
    await player.attach(video);
    await player.load(address);
    await video.play();
  },
  playPlain: (video: HTMLVideoElement, address: string) => {
    const hls = new Hls();
    hls.loadSource(address);
    hls.attachMedia(video);
    void video.play();
  },
});
