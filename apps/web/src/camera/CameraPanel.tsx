import { type ReactNode, useEffect, useRef } from 'react';
import { Mic, Monitor, SwitchCamera, Video } from 'lucide-react';
import { Mark } from '../ui/Mark.js';
import { sendingWords } from '../words/sending.js';
import type { DeviceWish } from './devices.js';
import { SoundLevel } from './SoundLevel.js';
import { isSending, type useCamera } from './useCamera.js';
import { say } from '../words/say.js';

interface CameraPanelProps {
  readonly camera: ReturnType<typeof useCamera>;
  /** Whether viewers have this picture now. */
  readonly isShown: boolean;
  /** What went wrong before anything was sent. */
  readonly fault: string | null;
  readonly children?: ReactNode;
}

const BUTTON =
  'inline-flex min-h-[46px] items-center justify-center gap-2 rounded-md border px-5 font-semibold disabled:opacity-60';
const MAIN = `${BUTTON} border-pine bg-pine text-on-pine`;
const PLAIN = `${BUTTON} border-edge bg-surface text-ink hover:bg-hover`;

/** The camera of this device: allowed, looked at and listened to, chosen, and sent. */
export function CameraPanel({ camera, isShown, fault, children }: CameraPanelProps) {
  const { camera: device, wish, sending, open, send, stop } = camera;
  if (device.status !== 'open') {
    return (
      <div className="grid gap-4">
        {device.status === 'closed' && device.fault && (
          <p role="alert" className="flex items-start gap-2 rounded-md border border-rust bg-rust-wash p-4">
            <Mark name="trouble" sizePx={20} /> {say(`device.${device.fault}`)}
          </p>
        )}
        <p>{say('camera.willAsk')}</p>
        <div className="flex flex-wrap gap-3">
          <button
            type="button"
            className={MAIN}
            disabled={device.status === 'opening'}
            onClick={() => void open({ ...wish, picture: 'camera' })}
          >
            <Video size={20} strokeWidth={1.75} aria-hidden />
            {device.status === 'opening' ? say('camera.starting') : say('camera.start')}
          </button>
          <button
            type="button"
            className={PLAIN}
            disabled={device.status === 'opening'}
            onClick={() => void open({ ...wish, picture: 'screen' })}
          >
            <Monitor size={20} strokeWidth={1.75} aria-hidden /> {say('camera.showScreen')}
          </button>
        </div>
      </div>
    );
  }
  const isOn = isSending(sending);
  return (
    <div className="grid gap-4">
      <Preview
        stream={device.stream}
        isMirrored={wish.picture === 'camera' && wish.facing === 'user'}
        onTurned={camera.turned}
      />
      <State words={sendingWords(sending, isShown)} camera={camera} isShown={isShown} />
      {fault && (
        <p role="alert" className="text-rust">
          {fault}
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        {isOn ? (
          <button type="button" className={PLAIN} onClick={stop}>
            {say('camera.stop')}
          </button>
        ) : (
          <button type="button" className={MAIN} onClick={() => void send()}>
            {say('camera.send')}
          </button>
        )}
        {wish.picture === 'camera' && device.devices.cameras.length > 1 && (
          <button type="button" className={PLAIN} onClick={() => void open(otherSide(wish))}>
            <SwitchCamera size={20} strokeWidth={1.75} aria-hidden /> {say('camera.switch')}
          </button>
        )}
        <button
          type="button"
          className={PLAIN}
          onClick={() => void open({ ...wish, picture: wish.picture === 'screen' ? 'camera' : 'screen' })}
        >
          <Monitor size={20} strokeWidth={1.75} aria-hidden />
          {wish.picture === 'screen' ? say('camera.back') : say('camera.showScreen')}
        </button>
      </div>
      <SoundLevel stream={device.stream} />
      <div className="grid gap-3 sm:grid-cols-2">
        {wish.picture === 'camera' && (
          <Choice
            label={say('camera.camera')}
            icon={<Video size={18} strokeWidth={1.75} aria-hidden />}
            devices={device.devices.cameras}
            chosen={device.stream.getVideoTracks()[0]?.getSettings().deviceId ?? ''}
            onChoose={(cameraId) => void open({ ...wish, cameraId })}
          />
        )}
        <Choice
          label={say('camera.microphone')}
          icon={<Mic size={18} strokeWidth={1.75} aria-hidden />}
          devices={device.devices.microphones}
          chosen={wish.microphoneId ?? device.stream.getAudioTracks()[0]?.getSettings().deviceId ?? 'none'}
          onChoose={(microphoneId) => void open({ ...wish, microphoneId })}
          none={say('camera.noSound')}
        />
      </div>
      {children}
    </div>
  );
}

const otherSide = (wish: DeviceWish): DeviceWish => ({
  ...wish,
  cameraId: null,
  facing: wish.facing === 'user' ? 'environment' : 'user',
});

/** As viewers will see it; one's own face is mirrored, as in a looking-glass. */
function Preview({
  stream,
  isMirrored,
  onTurned,
}: {
  stream: MediaStream;
  isMirrored: boolean;
  onTurned: () => void;
}) {
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    const element = video.current!;
    element.srcObject = stream;
    let known = '';
    const look = (): void => {
      const shape = `${element.videoWidth} × ${element.videoHeight}`;
      if (known !== '' && shape !== known) onTurned();
      known = shape;
    };
    element.addEventListener('resize', look);
    return () => {
      element.removeEventListener('resize', look);
      element.srcObject = null;
    };
  }, [stream, onTurned]);
  return (
    <video
      ref={video}
      aria-label={say('camera.yourPicture')}
      className={`max-h-[60vh] w-full rounded-md bg-ink object-contain ${isMirrored ? '-scale-x-100' : ''}`}
      autoPlay
      muted
      playsInline
    />
  );
}

function State({
  words,
  camera,
  isShown,
}: {
  words: string;
  camera: CameraPanelProps['camera'];
  isShown: boolean;
}) {
  const { status } = camera.sending;
  const isOnAir = status === 'sending' && isShown;
  const mark = isOnAir ? 'air' : status === 'sending' ? 'out' : status === 'away' ? 'caution' : 'planned';
  return (
    <p
      role="status"
      className={`flex min-h-[46px] items-center gap-3 rounded-md px-4 py-2 font-semibold ${isOnAir ? 'border border-marigold-text bg-marigold text-on-marigold' : 'border border-edge bg-surface'}`}
    >
      <Mark name={mark} sizePx={22} inherit={isOnAir} /> {words}
    </p>
  );
}

interface ChoiceProps {
  readonly label: string;
  readonly icon: ReactNode;
  readonly devices: readonly MediaDeviceInfo[];
  readonly chosen: string;
  readonly onChoose: (id: string) => void;
  readonly none?: string;
}

function Choice({ label, icon, devices, chosen, onChoose, none }: ChoiceProps) {
  return (
    <label className="grid gap-1">
      <span className="flex items-center gap-2 font-semibold">
        {icon} {label}
      </span>
      <select
        className="min-h-[46px] w-full rounded-md border border-edge bg-surface px-3"
        value={chosen}
        onChange={(event) => onChoose(event.target.value)}
      >
        {devices.map((device, index) => (
          <option key={device.deviceId} value={device.deviceId}>
            {device.label || `${label} ${index + 1}`}
          </option>
        ))}
        {none && <option value="none">{none}</option>}
      </select>
    </label>
  );
}
