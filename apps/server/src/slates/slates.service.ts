import { join } from 'node:path';
import { Injectable } from '@nestjs/common';
import { inheritLook } from '@heliphon/core/appearance/look';
import type { DesiredSlate } from '@heliphon/core/control/desired-state';
import type { SlateShape } from '@heliphon/core/media/slate-format';
import type { SlateMoment } from '@heliphon/contracts/slate';
import { sayShipped } from '../languages/shipped-languages.js';
import { Posters, POSTER_WIDTHS_PX } from '../files/posters.js';
import type { HouseEntity } from '../platform/entities.js';
import type { FileEntity } from '../tables/file.entity.js';
import type { EventEntity } from '../tables/event.entity.js';
import { drawStill, type SlateContent, stillIdOf } from './slate-still.js';

type SlateOf = Pick<EventEntity, 'posterId' | 'slateAfterSeconds'>;

/** What viewers of an event see while its picture is away. */
@Injectable()
export class SlatesService {
  constructor(private readonly posters: Posters) {}

  /** @param sound - of the house; `null` for none, or none that can be had. */
  desired(event: SlateOf, house: HouseEntity, sound: FileEntity | null): DesiredSlate {
    const idOf = (moment: SlateMoment): string => stillIdOf(contentOf(moment, event, house));
    return {
      awayAfterMs: event.slateAfterSeconds * 1000,
      stillIds: { coming: idOf('coming'), back: idOf('back') },
      sound: sound?.facts?.playBytes ? { fileId: sound.id, sizeBytes: sound.facts.playBytes } : null,
    };
  }

  /** @returns the still as a JPEG; `null` where the event's slate is another one by now. */
  async still(
    stillId: string,
    shape: SlateShape,
    event: SlateOf,
    house: HouseEntity,
  ): Promise<Buffer | null> {
    const moments = ['coming', 'back'] as const;
    const moment = moments.find((one) => stillIdOf(contentOf(one, event, house)) === stillId);
    return moment ? this.#draw(contentOf(moment, event, house), shape) : null;
  }

  /** @param words - in place of the house's own, to see how they look */
  preview(moment: SlateMoment, event: SlateOf | null, house: HouseEntity, words?: string): Promise<Buffer> {
    const content = contentOf(moment, event ?? { posterId: null }, house);
    return this.#draw(words ? { ...content, words } : content, 'wide');
  }

  #draw(content: SlateContent, shape: SlateShape): Promise<Buffer> {
    const { posterId } = content;
    const posterPath = posterId && join(this.posters.folder, posterId, `${POSTER_WIDTHS_PX[0]}.jpg`);
    return drawStill(content, shape, posterPath);
  }
}

const contentOf = (
  moment: SlateMoment,
  { posterId }: Pick<EventEntity, 'posterId'>,
  { name, look, slateWords, language }: HouseEntity,
): SlateContent => ({
  words: (moment === 'back' && slateWords) || sayShipped(language)(`slate.${moment}`),
  houseName: name,
  warm: inheritLook([{ level: 'house', own: look ?? {} }]).value.warm,
  posterId,
});
