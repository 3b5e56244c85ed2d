import { expect, test } from '@playwright/test';
import { eventOf, events, signIn } from './house.js';

test('an event is dragged to another hour and day, undone, and moved by keys', async ({ page }) => {
  await signIn(page);
  const { id, startsAtMs, stopsAtMs } = await eventOf('gig-rowing-regatta-finals');
  const startsNow = async (): Promise<number> =>
    (await events()).find((event) => event.id === id)!.startsAtMs;
  const link = page.getByRole('link', { name: /Gig-rowing Regatta finals/ }).last();
  await expect(link).toBeVisible();
  const bar = link.locator('xpath=..').locator('.cursor-grab').first();
  const box = (await bar.boundingBox())!;
  const hourPx = (box.width * 3_600_000) / (stopsAtMs - startsAtMs);
  await page.mouse.move(box.x + 20, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 60, box.y + 10, { steps: 4 });
  await page.mouse.move(box.x + 20 - hourPx * 2, box.y + 8, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText(/“Gig-rowing Regatta finals” is now/)).toBeVisible();
  expect(await startsNow()).toBe(startsAtMs - 2 * 3_600_000);
  const isBack = async (): Promise<boolean> => Math.abs((await bar.boundingBox())!.x - box.x) < 2;
  await expect.poll(isBack).toBe(false);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(startsNow).toBe(startsAtMs);
  await expect.poll(isBack).toBe(true);
  await link.focus();
  for (const key of ['ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowLeft'])
    await page.keyboard.press(`Alt+${key}`);
  await expect.poll(startsNow).toBe(startsAtMs + 2 * 900_000);
  await page.keyboard.press('Alt+ArrowLeft');
  await page.keyboard.press('Alt+ArrowLeft');
  await expect.poll(startsNow).toBe(startsAtMs);
});
