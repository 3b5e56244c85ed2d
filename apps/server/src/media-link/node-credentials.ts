import { createHash, timingSafeEqual } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import { MediaNodeEntity } from '../platform/entities.js';

const NODE = /^Node ([\w-]{1,60}):(\S{32,200})$/;

/** The media node that shows these credentials, `Node ID:SECRET`; `null` where it is none of ours. */
export async function recogniseNode(
  manager: EntityManager,
  authorization: string | undefined,
): Promise<MediaNodeEntity | null> {
  const [, nodeId, secret] = NODE.exec(authorization ?? '') ?? [];
  const node = nodeId ? await manager.findOneBy(MediaNodeEntity, { id: nodeId }) : null;
  return node && secret && isSameHash(secret, node.secretSha256Hex) ? node : null;
}

function isSameHash(secret: string, sha256Hex: string): boolean {
  const given = createHash('sha256').update(secret).digest();
  const kept = Buffer.from(sha256Hex, 'hex');
  return given.byteLength === kept.byteLength && timingSafeEqual(given, kept);
}
