import { type ChildProcess, spawn } from 'node:child_process';
import { createSocket, type Socket } from 'node:dgram';
import { MediaStreamTrack, RTCPeerConnection, RTCRtpCodecParameters } from 'werift';

const PICTURE = '-re -f lavfi -i testsrc2=size=320x180:rate=25';
const SOUND = '-re -f lavfi -i sine=frequency=440:sample_rate=48000';
const H264 =
  '-map 0:v -c:v libx264 -preset ultrafast -tune zerolatency -profile:v baseline -g 50 -x264-params repeat-headers=1 -pix_fmt yuv420p -payload_type 97 -f rtp';
const OPUS = '-map 1:a -c:a libopus -ac 2 -payload_type 111 -f rtp';

/** An encoder that speaks WHIP: what ffmpeg makes is sent by way of a peer connection. */
export class WhipCaller {
  location: string | null = null;
  readonly #sockets: Socket[] = [];
  #peer: RTCPeerConnection | null = null;
  #encoder: ChildProcess | null = null;

  constructor(private readonly origin: string) {}

  /** @returns the status that the node answers with */
  async call(key: string, { mimeType = 'video/H264', bundleOnly = false } = {}): Promise<number> {
    const peer = new RTCPeerConnection({
      codecs: {
        video: [new RTCRtpCodecParameters({ mimeType, clockRate: 90_000, payloadType: 97 })],
        audio: [
          new RTCRtpCodecParameters({
            mimeType: 'audio/opus',
            clockRate: 48_000,
            channels: 2,
            payloadType: 111,
          }),
        ],
      },
      bundlePolicy: 'max-bundle',
      iceServers: [],
      iceUseIpv6: false,
      iceAdditionalHostAddresses: ['127.0.0.1'],
    });
    this.#peer = peer;
    const [video, audio] = [new MediaStreamTrack({ kind: 'video' }), new MediaStreamTrack({ kind: 'audio' })];
    for (const track of [video, audio]) peer.addTransceiver(track, { direction: 'sendonly' });
    await peer.setLocalDescription(await peer.createOffer());
    const answer = await fetch(`${this.origin}/whip`, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/sdp' },
      body: bundleOnly ? offerBundled(peer.localDescription!.sdp) : peer.localDescription!.sdp,
    });
    if (answer.status !== 201) return answer.status;
    this.location = answer.headers.get('location');
    await peer.setRemoteDescription({ type: 'answer', sdp: await answer.text() });
    const ports = await Promise.all([this.#forward(video), this.#forward(audio)]);
    const outputs = [
      ...`${H264} rtp://127.0.0.1:${ports[0]}`.split(' '),
      ...`${OPUS} rtp://127.0.0.1:${ports[1]}`.split(' '),
    ];
    this.#encoder = spawn('ffmpeg', ['-v', 'error', ...`${PICTURE} ${SOUND}`.split(' '), ...outputs], {
      stdio: 'ignore',
    });
    return 201;
  }

  /** Ends the session as the protocol has it. */
  async hangUp(): Promise<number> {
    const answer = await fetch(`${this.origin}${this.location}`, { method: 'DELETE' });
    return answer.status;
  }

  async close(): Promise<void> {
    this.#encoder?.kill('SIGKILL');
    for (const socket of this.#sockets) socket.close();
    await this.#peer?.close();
  }

  #forward(track: MediaStreamTrack): Promise<number> {
    const socket = createSocket('udp4', (packet) => track.writeRtp(packet));
    this.#sockets.push(socket);
    return new Promise((resolve) => socket.bind(0, '127.0.0.1', () => resolve(socket.address().port)));
  }
}

/** As a browser offers that wants one bundle: every section but the first waits for it. */
const offerBundled = (sdp: string): string =>
  sdp.replace(/^m=audio \d+ (.*)$/m, 'm=audio 0 $1\r\na=bundle-only').replace(/\r\r/g, '\r');
