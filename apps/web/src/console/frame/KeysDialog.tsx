import { Dialog } from 'radix-ui';
import { Button } from '../../ui/Button.js';

const KEYS: readonly { readonly where: string; readonly keys: readonly (readonly [string, string])[] }[] = [
  {
    where: 'Everywhere',
    keys: [
      ['Ctrl K', 'go to any room or event, do anything'],
      ['G then A', 'what is on air'],
      ['G then W', 'the week'],
      ['G then S', 'sources'],
      ['G then P', 'where it goes'],
      ['G then R', 'the archive'],
      ['G then H', 'our house'],
      ['?', 'these keys'],
    ],
  },
  {
    where: 'Week, with an event in focus',
    keys: [
      ['Alt ← →', 'a quarter of an hour earlier, later'],
      ['Alt ↑ ↓', 'a day earlier, later'],
      ['Alt Shift ← →', 'stop earlier, later'],
    ],
  },
  {
    where: 'The desk, on air',
    keys: [['O', 'on to the next item of the order']],
  },
  {
    where: 'Buttons that say “hold”',
    keys: [['Enter, held', 'does it after one second']],
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
        <Dialog.Title className="mb-2 text-2xl">Keys</Dialog.Title>
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
          Close
        </Button>
      </Dialog.Content>
    </Dialog.Root>
  );
}
