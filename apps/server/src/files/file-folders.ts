import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import { CONFIG, type ServerConfig } from '../platform/config.js';

type Owned = { readonly houseId: string; readonly id: string };

/** Where the bytes of files are: `files/HOUSE/FILE/`, and `uploads/` while they arrive. */
@Injectable()
export class FileFolders {
  constructor(@Inject(CONFIG) private readonly config: ServerConfig) {}

  get uploads(): string {
    return join(this.config.dataFolder, 'uploads');
  }

  ofHouse(houseId: string): string {
    return join(this.config.dataFolder, 'files', houseId);
  }

  of({ houseId, id }: Owned): string {
    return join(this.ofHouse(houseId), id);
  }

  /** As it came. */
  original(file: Owned): string {
    return join(this.of(file), 'original');
  }

  /** As every player takes it: a film as MP4 with H.264 and AAC, a sound as AAC in MP4. */
  playable(file: Owned): string {
    return join(this.of(file), 'playable.mp4');
  }

  /** A small picture of it. */
  look(file: Owned): string {
    return join(this.of(file), 'look.jpg');
  }
}
