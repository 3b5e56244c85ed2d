import { type ChildProcess, spawn } from 'node:child_process';

const DIAL_AGAIN_MS = 200;

/**
 * Sends by ffmpeg, and dials again whenever it is cut off or not heard, as encoders do.
 * @returns what hangs it up
 */
export function keepCalling(parameters: readonly string[]): () => void {
  let child: ChildProcess;
  let isHungUp = false;
  const dial = (): void => {
    if (isHungUp) return;
    child = spawn('ffmpeg', ['-v', 'error', ...parameters], { stdio: 'ignore' });
    child.once('close', () => setTimeout(dial, DIAL_AGAIN_MS));
  };
  dial();
  return () => {
    isHungUp = true;
    child.kill('SIGKILL');
  };
}
