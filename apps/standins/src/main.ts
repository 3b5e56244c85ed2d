import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import Joi from 'joi';
import { BoxStandIn } from './box/box.js';
import { ENCODER_FAULTS, type EncoderFault, type EncoderOrder, EncoderStandIn } from './encoder/encoder.js';
import { MailBox } from './mail/mail-box.js';
import { NoticeBoard } from './notices/notice-board.js';
import { boxPage, mailPage, noticePage, overviewPage, receivedPage, websitePage } from './pages.js';
import { PLATFORM_MODES, type PlatformMode, PlatformStandIn } from './platform/platform.js';
import { openPlatforms } from './platforms/open-platforms.js';

const { film, host, port, consoleUrl, clientSecret, certificateFile } = Joi.attempt(
  {
    film: process.env.HELIPHON_FILM,
    host: process.env.HELIPHON_BIND ?? '127.0.0.1',
    port: process.env.HELIPHON_STANDINS_PORT ?? '4630',
    consoleUrl: process.env.HELIPHON_CONSOLE_URL,
    clientSecret: process.env.HELIPHON_DEMO_CLIENT_SECRET,
    certificateFile: process.env.HELIPHON_CA_FILE,
  },
  Joi.object<{
    film: string;
    host: string;
    port: number;
    consoleUrl: string;
    clientSecret: string;
    certificateFile: string;
  }>({
    film: Joi.string().required(),
    host: Joi.string().required(),
    port: Joi.number().port().required(),
    consoleUrl: Joi.string().uri().required(),
    clientSecret: Joi.string().required(),
    certificateFile: Joi.string().required(),
  }),
);

const orderSchema = Joi.object<EncoderOrder>({
  address: Joi.string().required(),
  key: Joi.string().required(),
  user: Joi.string().empty(null),
  password: Joi.string().empty(null),
  second: Joi.object({ address: Joi.string().required() }).unknown().empty(null),
}).unknown();
const MAX_BODY_BYTES = 10_000;

const SITES = [
  { name: 'Skerry, a social network', address: `http://localhost:${port + 4}` },
  { name: 'Windlass, a film site', address: `http://localhost:${port + 5}` },
];
/** What the platforms' clock adds to the system's: moved with that of a house under test. */
let clockOffsetMs = 0;
const encoders = new Map<string, EncoderStandIn>();
const boxes = new Map<string, BoxStandIn>();
const platform = new PlatformStandIn();
const mail = new MailBox();
const board = new NoticeBoard();

function encoderOf(name: string): EncoderStandIn {
  const known = encoders.get(name);
  if (known) return known;
  const encoder = new EncoderStandIn(name, film);
  encoders.set(name, encoder);
  return encoder;
}

function boxOf(name: string): BoxStandIn {
  const known = boxes.get(name);
  if (known) return known;
  const box = new BoxStandIn(`${consoleUrl}/api`, new EncoderStandIn(`box ${name}`, film));
  boxes.set(name, box);
  return box;
}

async function textOf(request: IncomingMessage): Promise<string> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > MAX_BODY_BYTES) throw new Error('The body is too long');
  }
  return text;
}

async function bodyOf(request: IncomingMessage): Promise<unknown> {
  const text = await textOf(request);
  return text ? JSON.parse(text) : {};
}

const views = () => [...encoders.values()].map((encoder) => encoder.view);

function sendHtml(response: ServerResponse, html: string): void {
  response.writeHead(200, { 'Content-Type': 'text/html; charset=utf-8' }).end(html);
}
function sendJson(response: ServerResponse, value: unknown): void {
  response.writeHead(200, { 'Content-Type': 'application/json' }).end(JSON.stringify(value));
}

/** `/encoders/NAME/start|stop|drop|plug-in|fault`, `/boxes/NAME/on|off|start|stop|screen`, `/platform/STREAM/mode|frame|picture.jpg`, `/mail/letters`, `/board/post|status|notices`, `/clock`. */
async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const url = new URL(request.url ?? '/', 'http://standins');
  const [room, name, action] = url.pathname.split('/').slice(1).map(decodeURIComponent);
  const isOrder = request.method === 'POST';
  if (!room) return sendHtml(response, overviewPage(views(), platform.streams, mail.letters.length, SITES));
  if (room === 'encoders' && !name) return sendJson(response, views());
  if (room === 'encoders' && isOrder) {
    const encoder = encoderOf(name!);
    const body = await bodyOf(request);
    if (action === 'start') encoder.start(Joi.attempt(body, orderSchema));
    else if (action === 'stop') encoder.stop();
    else if (action === 'fault') encoder.setFault(Joi.attempt(body, faultSchema).fault);
    else if (action === 'drop') encoder.drop(Joi.attempt(body, dropSchema).seconds);
    else if (action === 'plug-in') encoder.plugIn();
    return sendJson(response, encoder.view);
  }
  if (room === 'boxes' && name) {
    const box = boxOf(name);
    if (isOrder && action === 'on') box.powerOn();
    else if (isOrder && action === 'off') box.powerOff();
    else if (isOrder && action === 'start') box.start();
    else if (isOrder && action === 'stop') box.stop();
    else if (action === 'screen') return sendHtml(response, boxPage(name, box.screen));
    return sendJson(response, box.screen);
  }
  if (room === 'clock' && isOrder) {
    clockOffsetMs = Joi.attempt(await bodyOf(request), clockSchema).offsetMs;
    return sendJson(response, { offsetMs: clockOffsetMs });
  }
  if (room === 'mail')
    return name ? sendJson(response, mail.letters) : sendHtml(response, mailPage(mail.letters));
  if (room === 'board') {
    if (isOrder && name === 'post') return void response.writeHead(board.take(await textOf(request))).end();
    if (isOrder) board.status = Joi.attempt(await bodyOf(request), statusSchema).status;
    return name ? sendJson(response, board.notices) : sendHtml(response, noticePage(board));
  }
  if (room === 'platform' && !name) return sendHtml(response, receivedPage(platform.streams));
  if (room === 'platform' && name === 'streams') return sendJson(response, platform.streams);
  if (room === 'platform' && action === 'mode' && isOrder) {
    platform.setMode(name!, Joi.attempt(await bodyOf(request), modeSchema).mode);
    return sendJson(response, platform.streams);
  }
  if (room === 'platform' && action === 'frame')
    return sendJson(response, { frame: await platform.frameNumber(name!) });
  if (room === 'platform' && action === 'picture.jpg') {
    const jpeg = await platform.picture(name!);
    if (jpeg) return void response.writeHead(200, { 'Content-Type': 'image/jpeg' }).end(jpeg);
  }
  response.writeHead(404).end('There is nothing at this address.');
}

const dropSchema = Joi.object<{ seconds: number | null }>({
  seconds: Joi.number().min(0).max(600).allow(null).required(),
});
const faultSchema = Joi.object<{ fault: EncoderFault }>({ fault: Joi.valid(...ENCODER_FAULTS).required() });
const statusSchema = Joi.object<{ status: number }>({
  status: Joi.number().integer().min(200).max(599).required(),
});
const clockSchema = Joi.object<{ offsetMs: number }>({ offsetMs: Joi.number().integer().required() });
const modeSchema = Joi.object<{ mode: PlatformMode }>({ mode: Joi.valid(...PLATFORM_MODES).required() });

const control = createServer((request, response) => {
  answer(request, response).catch((error: unknown) => response.writeHead(400).end(String(error)));
});
const website = createServer((request, response) => {
  const slug = new URL(request.url ?? '/', 'http://website').pathname.slice(1);
  if (!/^[a-z0-9-]+$/.test(slug)) return void response.writeHead(404).end('No such page.');
  sendHtml(response, websitePage(`${consoleUrl}/embed/${slug}`));
});

// A test that asks again after some seconds must not meet a connection that is just being closed.
control.keepAliveTimeout = 75_000;
await platform.listen(port + 1, host);
await mail.listen(port + 3, host);
await openPlatforms({
  ports: { skerry: port + 4, windlass: port + 5, skerryIngest: port + 6, windlassIngest: port + 7 },
  client: {
    id: 'heliphon',
    name: 'Heliphon',
    secret: clientSecret,
    redirectBase: `${consoleUrl}/linked`,
  },
  certificateFile,
  now: () => Date.now() + clockOffsetMs,
});
// The customer's website is addressed as `localhost`, another site than ours; that name may mean ::1 as well.
website.listen(port + 2, 'localhost');
control.listen(port, host);

let stopping = false;
function stop(): void {
  if (stopping) return;
  stopping = true;
  for (const box of boxes.values()) box.powerOff();
  for (const encoder of encoders.values()) encoder.stop();
  process.exit(0);
}
process.once('SIGTERM', stop);
process.once('SIGINT', stop);
process.once('disconnect', stop);
