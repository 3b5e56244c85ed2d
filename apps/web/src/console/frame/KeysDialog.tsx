import { Dialog } from 'radix-ui';
import { Button } from '../../ui/Button.js';
import { FRAME_TEXT } from '../../words/console/frame.js';

const KEYS: readonly { readonly where: string; readonly keys: readonly (readonly [string, string])[] }[] = [
  {
    where: 'Everywhere',
    keys: [
      [FRAME_TEXT.ctrlK, FRAME_TEXT.goAnywhereDoAnything],
      [FRAME_TEXT.gThenA, FRAME_TEXT.whatIsOnAir],
      [FRAME_TEXT.gThenW, FRAME_TEXT.theWeek],
      [FRAME_TEXT.gThenS, 'sources'],
      [FRAME_TEXT.gThenP, FRAME_TEXT.whereItGoes],
      [FRAME_TEXT.gThenR, FRAME_TEXT.theArchive],
      [FRAME_TEXT.gThenH, FRAME_TEXT.ourHouse],
      [FRAME_TEXT.gThenL, FRAME_TEXT.theWall],
      ['?', FRAME_TEXT.theseKeys],
    ],
  },
  {
    where: FRAME_TEXT.weekWithAnEventIn,
    keys: [
      [FRAME_TEXT.alt, FRAME_TEXT.aQuarterOfAnHour],
      [FRAME_TEXT.alt2, FRAME_TEXT.aDayEarlierLater],
      [FRAME_TEXT.altShift, FRAME_TEXT.stopEarlierLater],
    ],
  },
  {
    where: FRAME_TEXT.theDeskOnAir,
    keys: [
      ['O', FRAME_TEXT.nextItemInTheOrder],
      ['X', FRAME_TEXT.theOtherSource],
      ['N', FRAME_TEXT.aNote],
      ['D', FRAME_TEXT.iHaveTheDesk],
      ['Q', FRAME_TEXT.theQuickPicture],
      ['L', FRAME_TEXT.listen],
      ['C', FRAME_TEXT.answerInTheChat],
      ['S', FRAME_TEXT.saveWhatWasShown],
    ],
  },
  {
    where: FRAME_TEXT.buttonsThatSayHold,
    keys: [[FRAME_TEXT.enterHeld, FRAME_TEXT.doesItAfterOneSecond]],
  },
];

/** The keys of the screen. */
export function KeysDialog({ onClose }: { onClose: () => void }) {
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Overlay className="fixed inset-0 z-20 bg-[rgb(8_13_24/45%)]" />
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed top-1/2 left-1/2 z-30 max-h-[92vh] w-[min(560px,94vw)] -translate-1/2 overflow-y-auto rounded-md border border-edge bg-ground p-6 text-ink"
      >
        <Dialog.Title className="mb-2 text-2xl">{FRAME_TEXT.keys}</Dialog.Title>
        {KEYS.map(({ where, keys }) => (
          <section key={where} aria-label={where} className="pt-2">
            <h2 className="font-sans text-[15px] font-semibold text-ink-soft">{where}</h2>
            <dl className="grid grid-cols-[150px_1fr] gap-y-1">
              {keys.map(([key, words]) => (
                <div key={key} className="contents">
                  <dt className="figures">{key}</dt>
                  <dd>{words}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
        <Button className="mt-4" onClick={onClose}>
          {FRAME_TEXT.close}
        </Button>
      </Dialog.Content>
    </Dialog.Root>
  );
}
