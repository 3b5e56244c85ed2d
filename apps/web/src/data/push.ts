import { io, type Socket } from 'socket.io-client';
import type {
  ConsoleToServer,
  PublicToServer,
  ServerToConsole,
  ServerToPublic,
} from '@heliphon/contracts/push';

/** Consoles are few and come back at once; public pages are many and spread themselves. */
const BACK_AFTER = {
  console: { reconnectionDelay: 500, reconnectionDelayMax: 2000, randomizationFactor: 0.5 },
  public: { reconnectionDelay: 1000, reconnectionDelayMax: 10_000, randomizationFactor: 0.9 },
} as const;

export type ConsoleSocket = Socket<ServerToConsole, ConsoleToServer>;
export type PublicSocket = Socket<ServerToPublic, PublicToServer>;

export const connectConsole = (): ConsoleSocket =>
  io('/console', { transports: ['websocket'], ...BACK_AFTER.console, forceNew: true });

export const connectPublic = (): PublicSocket =>
  io('/public', { transports: ['websocket'], ...BACK_AFTER.public, forceNew: true });
