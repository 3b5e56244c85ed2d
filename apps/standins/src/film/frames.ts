import sharp from 'sharp';
import { STRIP_PX, stripCells } from '@heliphon/core/signal/code-strip';
import { BOAT_SVG, DUSK, sceneSvg } from './scene.js';

export const FILM = { widthPx: 1280, heightPx: 720, frameRateFps: 30, seconds: 60 } as const;
const ROW = FILM.widthPx * 3;
const BOAT_PX = 200;
const TURN = 2 * Math.PI;

/** Where lamplight breathes: the chapel's windows and door. */
const WINDOWS = { left: 240, top: 180, right: 500, bottom: 490 };
const WATER_TOP = 480;

/** Draws the film's frames as packed RGB: a still scene, over which light, water and a boat move. */
export class FramePainter {
  private constructor(
    private readonly scene: Buffer,
    private readonly boat: Buffer,
  ) {}

  static async open(): Promise<FramePainter> {
    const scene = await sharp(Buffer.from(sceneSvg(DUSK)))
      .removeAlpha()
      .raw()
      .toBuffer();
    const boat = await sharp(Buffer.from(BOAT_SVG)).ensureAlpha().raw().toBuffer();
    return new FramePainter(scene, boat);
  }

  /** The last frame leads back to the first: every movement is a whole number of turns. */
  paint(frame: number): Buffer {
    const picture = Buffer.from(this.scene);
    const turn = frame / (FILM.frameRateFps * FILM.seconds);
    this.#breatheLight(picture, turn);
    this.#moveWater(picture, turn);
    this.#sail(picture, turn);
    drawStrip(picture, frame);
    return picture;
  }

  #breatheLight(picture: Buffer, turn: number): void {
    const warmth = Math.round(26 * Math.sin(TURN * turn * 12) + 10 * Math.sin(TURN * turn * 37));
    for (let y = WINDOWS.top; y < WINDOWS.bottom; y += 1) {
      for (let at = y * ROW + WINDOWS.left * 3; at < y * ROW + WINDOWS.right * 3; at += 3) {
        if (picture[at]! < 200) continue;
        picture[at] = clamp(picture[at]! + warmth);
        picture[at + 1] = clamp(picture[at + 1]! + warmth);
      }
    }
  }

  /** Rows of the water slide to and fro, the nearer the further. */
  #moveWater(picture: Buffer, turn: number): void {
    for (let y = WATER_TOP; y < FILM.heightPx; y += 2) {
      const depth = (y - WATER_TOP) / (FILM.heightPx - WATER_TOP);
      const glint = Math.sin(TURN * (turn * 20 + y / 23)) * Math.sin(TURN * (turn * 14 + y / 7));
      if (glint < 0.25) continue;
      const centre = 905 + Math.sin(TURN * (turn * 8 + y / 60)) * 40 * depth;
      const half = Math.round(30 + 110 * depth * glint);
      const light = Math.round(46 * glint);
      for (let x = Math.round(centre) - half; x < centre + half; x += 1) {
        const at = y * ROW + x * 3;
        for (let channel = 0; channel < 3; channel += 1)
          picture[at + channel] = clamp(picture[at + channel]! + light);
      }
    }
  }

  #sail(picture: Buffer, turn: number): void {
    const left = Math.round(960 + 150 * Math.sin(TURN * turn));
    const top = Math.round(392 + 5 * Math.sin(TURN * turn * 15));
    for (let y = 0; y < BOAT_PX; y += 1) {
      for (let x = 0; x < BOAT_PX; x += 1) {
        const from = (y * BOAT_PX + x) * 4;
        const alpha = this.boat[from + 3]! / 255;
        if (alpha === 0 || left + x >= FILM.widthPx) continue;
        const to = (top + y) * ROW + (left + x) * 3;
        for (let channel = 0; channel < 3; channel += 1) {
          const under = picture[to + channel]!;
          picture[to + channel] = Math.round(under + (this.boat[from + channel]! - under) * alpha);
        }
      }
    }
  }
}

function drawStrip(picture: Buffer, frame: number): void {
  const { left, top, cellWidth, cellHeight } = STRIP_PX;
  stripCells(frame).forEach((cell, index) => {
    for (let y = top; y < top + cellHeight; y += 1) {
      const from = y * ROW + (left + index * cellWidth) * 3;
      picture.fill(cell ? 235 : 16, from, from + cellWidth * 3);
    }
  });
}

const clamp = (value: number): number => Math.min(255, Math.max(0, value));
