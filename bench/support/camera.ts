import { STRIP_PX, stripCells } from '@heliphon/core/signal/code-strip';
import { PICTURE_SIZES } from '@heliphon/core/ladder/picture-sizes';
import { CameraSender } from '../../apps/web/src/camera/camera-sender.js';
import { measureUpload } from '../../apps/web/src/camera/measure-upload.js';

interface Line {
  readonly address: string;
  readonly token: string;
}

const SIZE = PICTURE_SIZES.find(({ name }) => name === '360p30')!;
const NUMBERS = 4096;

/** When each frame stood before the lens, by its number; older rounds are overwritten. */
const drawnAtMs = new Array<number>(NUMBERS).fill(0);

/** Sends a picture that is drawn as if a lens saw it, each frame with its number in the code strip. */
function sendNumbers({ address, token }: Line): void {
  const canvas = document.createElement('canvas');
  canvas.width = SIZE.widthPx;
  canvas.height = SIZE.heightPx;
  const drawing = canvas.getContext('2d')!;
  const scale = SIZE.widthPx / STRIP_PX.ofWidth;
  let frame = 0;
  setInterval(() => {
    const number = frame % NUMBERS;
    frame += 1;
    drawing.fillStyle = `rgb(${60 + (number % 90)} 80 90)`;
    drawing.fillRect(0, 0, canvas.width, canvas.height);
    stripCells(number).forEach((cell, index) => {
      drawing.fillStyle = cell ? '#ebebeb' : '#101010';
      const left = (STRIP_PX.left + index * STRIP_PX.cellWidth) * scale;
      drawing.fillRect(left, STRIP_PX.top * scale, STRIP_PX.cellWidth * scale, STRIP_PX.cellHeight * scale);
    });
    drawnAtMs[number] = Date.now();
  }, 1000 / SIZE.frameRateFps);
  const picture = canvas.captureStream(SIZE.frameRateFps);
  const context = new AudioContext();
  const tone = context.createOscillator();
  const sound = context.createMediaStreamDestination();
  tone.connect(sound);
  tone.start();
  const stream = new MediaStream([...picture.getTracks(), ...sound.stream.getTracks()]);
  const point = { nodeId: 'bench', place: 'bench', sendUrl: address, reachUrl: '' };
  const settings = { points: [point], token, device: 'bench', size: SIZE };
  new CameraSender(settings, () => undefined).record(stream);
}

const measure = (line: Line): Promise<number> =>
  measureUpload(line, () => undefined, new AbortController().signal);

Object.assign(window, { sendNumbers, measure, drawnAtMs });
