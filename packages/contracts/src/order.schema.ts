import Joi from 'joi';
import { ORDER_LIMITS, type OrderItem } from '@heliphon/core/order/order-sheet';
import type { MoveOrder, WriteOrder } from './order.js';
import { lineSchema } from './text.schema.js';

const itemId = Joi.string().pattern(/^[a-z0-9]{1,12}$/, 'an item');

const lengthOf = ({ title, words }: OrderItem): number => title.length + words.length;

export const writeOrderSchema = Joi.object<WriteOrder>({
  items: Joi.array()
    .items(
      Joi.object<OrderItem, true>({
        id: itemId.required(),
        atMinutes: Joi.number().integer().min(0).max(ORDER_LIMITS.atMinutes).allow(null).required(),
        title: lineSchema(ORDER_LIMITS.titleLength).required(),
        words: Joi.string().allow('').max(ORDER_LIMITS.wordsLength).required(),
      }),
    )
    .max(ORDER_LIMITS.items)
    .unique('id')
    .custom((items: OrderItem[], helpers) =>
      items.reduce((sum, item) => sum + lengthOf(item), 0) > ORDER_LIMITS.wholeLength
        ? helpers.error('string.max')
        : items,
    )
    .required(),
});

export const moveOrderSchema = Joi.object<MoveOrder, true>({ itemId: itemId.allow(null).required() });
