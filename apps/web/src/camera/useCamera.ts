import { useCallback, useEffect, useReducer, useRef } from 'react';
import type { PictureSize } from '@heliphon/core/ladder/picture-sizes';
import type { PointWay } from '@heliphon/contracts/nodes';
import { CameraSender, recordingType, type SendingState } from './camera-sender.js';
import {
  closeStream,
  deviceName,
  DeviceError,
  type DeviceFault,
  type Devices,
  type DeviceWish,
  listDevices,
  openDevices,
} from './devices.js';

import { nearestFirst } from './points.js';

/** By which it sends. */
export interface CameraAccess {
  readonly points: readonly PointWay[];
  readonly token: string;
}

export type CameraState =
  | { readonly status: 'closed'; readonly fault: DeviceFault | null }
  | { readonly status: 'opening' }
  | { readonly status: 'open'; readonly stream: MediaStream; readonly devices: Devices };

interface State {
  readonly camera: CameraState;
  readonly wish: DeviceWish;
  readonly sending: SendingState;
  /** What kept it from beginning to send. */
  readonly error: unknown;
}

type Change = Partial<State>;

const FIRST: State = {
  camera: { status: 'closed', fault: null },
  wish: { picture: 'camera', cameraId: null, facing: 'user', microphoneId: null },
  sending: { status: 'idle' },
  error: null,
};

export const isSending = ({ status }: SendingState): boolean => status !== 'idle' && status !== 'stopped';

/**
 * A camera of this device, and the way of its picture to the media node.
 * @param askToken - asked each time sending begins.
 */
export function useCamera(askToken: () => Promise<CameraAccess>, size: PictureSize) {
  const [state, change] = useReducer(
    (before: State, after: Change): State => ({ ...before, ...after }),
    FIRST,
  );
  const sender = useRef<CameraSender | null>(null);
  const stream = useRef<MediaStream | null>(null);

  useEffect(
    () => () => {
      sender.current?.dispose();
      closeStream(stream.current);
    },
    [],
  );
  useAwake(isSending(state.sending));

  const open = useCallback(
    async (wish: DeviceWish): Promise<void> => {
      if (recordingType() === null) return change({ wish, camera: { status: 'closed', fault: 'no-h264' } });
      if (stream.current === null) change({ wish, camera: { status: 'opening' } });
      // Most telephones have one camera open at a time.
      if (wish.picture === 'camera') closeStream(stream.current);
      try {
        const opened = await openDevices(wish, size);
        closeStream(stream.current);
        stream.current = opened;
        sender.current?.record(opened);
        opened.getVideoTracks()[0]?.addEventListener('ended', () => {
          if (stream.current !== opened) return;
          stream.current = null;
          change({ camera: { status: 'closed', fault: 'none-found' } });
        });
        change({ wish, camera: { status: 'open', stream: opened, devices: await listDevices() } });
      } catch (error) {
        stream.current = null;
        const fault = error instanceof DeviceError ? error.code : 'fault';
        change({ wish, camera: { status: 'closed', fault } });
      }
    },
    [size],
  );

  const send = useCallback(async (): Promise<void> => {
    if (!stream.current) return;
    change({ error: null, sending: { status: 'connecting' } });
    try {
      const { points, token } = await askToken();
      const ordered = await nearestFirst(points);
      const settings = { points: ordered, token, device: deviceName(navigator.userAgent), size };
      sender.current = new CameraSender(settings, (sending) => change({ sending }));
      sender.current.record(stream.current);
    } catch (error) {
      change({ error, sending: { status: 'idle' } });
    }
  }, [askToken, size]);

  const stop = useCallback(() => void sender.current?.stop(), []);

  /** The picture has another shape: a telephone was turned. */
  const turned = useCallback(() => {
    if (stream.current) sender.current?.record(stream.current);
  }, []);

  return { ...state, open, send, stop, turned };
}

/** Keeps the screen from going dark while something is sent: a telephone that sleeps films nothing. */
function useAwake(isOn: boolean): void {
  useEffect(() => {
    if (!isOn || !('wakeLock' in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let isOver = false;
    const take = (): void => {
      if (document.visibilityState !== 'visible') return;
      navigator.wakeLock.request('screen').then(
        (taken) => {
          if (isOver) void taken.release();
          else lock = taken;
        },
        () => undefined, // a battery that is nearly empty refuses it
      );
    };
    take();
    document.addEventListener('visibilitychange', take);
    return () => {
      isOver = true;
      document.removeEventListener('visibilitychange', take);
      void lock?.release();
    };
  }, [isOn]);
}
