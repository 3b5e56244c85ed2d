import { Module } from '@nestjs/common';
import { ChatBatches } from './chat-batches.js';
import { ChatModerationService } from './chat-moderation.service.js';
import { ChatController } from './chat.controller.js';
import { ChatService } from './chat.service.js';

/** The chat of an event, and those who look after it. */
@Module({
  controllers: [ChatController],
  providers: [ChatBatches, ChatModerationService, ChatService],
  exports: [ChatService],
})
export class ChatModule {}
