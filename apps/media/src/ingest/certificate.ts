import { readFile, stat } from 'node:fs/promises';
import type { Server } from 'node:tls';

/** PEM files of the house's choice: the certificate with its chain, and its private key. */
export interface CertificateFiles {
  readonly certificateFile: string;
  readonly keyFile: string;
}

const LOOK_EVERY_MS = 60_000;

export async function readCertificate(files: CertificateFiles): Promise<{ cert: Buffer; key: Buffer }> {
  const [cert, key] = await Promise.all([readFile(files.certificateFile), readFile(files.keyFile)]);
  return { cert, key };
}

/** Takes up a renewed certificate without closing a connection; returns its undo. */
export function followCertificate(server: Server, files: CertificateFiles): () => void {
  let seenAtMs: number | null = null;
  const look = async (): Promise<void> => {
    const { mtimeMs } = await stat(files.certificateFile);
    if (seenAtMs !== null && seenAtMs !== mtimeMs) server.setSecureContext(await readCertificate(files));
    seenAtMs = mtimeMs;
  };
  // While the files are being written they may not fit together: the old certificate stays until they do.
  const timer = setInterval(() => void look().catch(() => undefined), LOOK_EVERY_MS);
  void look().catch(() => undefined);
  return () => clearInterval(timer);
}
