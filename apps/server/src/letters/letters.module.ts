import { Module } from '@nestjs/common';
import { PostOffice } from './post-office.js';

/** Letters: written down with what they tell of, and posted. */
@Module({
  providers: [PostOffice],
  exports: [PostOffice],
})
export class LettersModule {}
