import { Moon, Sun } from 'lucide-react';
import { useCallback, useState } from 'react';
import { NavLink, Outlet, useMatch } from 'react-router';
import { Toaster } from 'sonner';
import { signOut } from '../../data/commands.js';
import { useSession } from '../../data/house.js';
import { type Live, useHealth, useLive } from '../../data/live.js';
import { Button } from '../../ui/Button.js';
import { chooseLight, useLight } from '../../ui/light.js';
import { CommandPalette } from './CommandPalette.js';
import { KeysDialog } from './KeysDialog.js';
import { ROOMS } from './rooms.js';
import { LampStrip } from './LampStrip.js';
import { useShortcuts } from './useShortcuts.js';

/** Around every room: the lamp strip, the row of rooms, and what is the matter with the connection. */
export function Frame() {
  const isDesk = useMatch('/events/:id/air') !== null;
  const light = useLight(isDesk ? 'booth' : 'day');
  const { data: session } = useSession();
  const [areKeysShown, setKeysShown] = useState(false);
  const showKeys = useCallback(() => setKeysShown(true), []);
  useShortcuts(showKeys);
  return (
    <div data-light={light} className="flex min-h-screen flex-col bg-ground text-ink">
      <a
        href="#room"
        className="sr-only focus:not-sr-only focus:absolute focus:z-10 focus:bg-surface focus:p-3"
      >
        Skip to the room
      </a>
      <header className="border-b border-line bg-surface print:hidden">
        <LampStrip />
        <div className="flex min-h-[38px] flex-wrap items-center gap-1 px-3.5 pt-0.5">
          <nav aria-label="Rooms" className="flex flex-wrap gap-1">
            {ROOMS.map(({ to, name }) => (
              <NavLink
                key={to}
                to={to}
                end={to === '/'}
                className="border-b-[3px] border-transparent px-2.5 pt-1.5 pb-1.5 text-ink-soft hover:text-ink aria-[current=page]:border-pine aria-[current=page]:font-semibold aria-[current=page]:text-ink"
              >
                {name}
              </NavLink>
            ))}
          </nav>
          <span className="flex-1" />
          <Button
            kind="quiet"
            className="text-[13px] !font-normal text-ink-soft"
            onClick={() => chooseLight(light === 'day' ? 'booth' : 'day')}
          >
            {light === 'day' ? (
              <Moon size={16} strokeWidth={1.75} aria-hidden />
            ) : (
              <Sun size={16} strokeWidth={1.75} aria-hidden />
            )}
            {light === 'day' ? 'Booth light' : 'Day light'}
          </Button>
          <span className="px-2 text-[13px] text-ink-soft">{session?.person.name}</span>
          <Button
            kind="quiet"
            className="text-[13px] !font-normal text-ink-soft"
            onClick={() => void signOut()}
          >
            Sign out
          </Button>
        </div>
      </header>
      <ConnectionNotice />
      <main id="room" tabIndex={-1} className="flex flex-1 flex-col outline-none">
        <Outlet />
      </main>
      <CommandPalette onKeys={showKeys} />
      {areKeysShown && <KeysDialog onClose={() => setKeysShown(false)} />}
      <Toaster position="bottom-right" theme={light === 'day' ? 'light' : 'dark'} />
    </div>
  );
}

function ConnectionNotice() {
  const { isConnected, figures } = useLive();
  const health = useHealth();
  const words = noticeWords({ isConnected, figures, ...health });
  return (
    <p role="status" className={words ? 'bg-plum-wash px-5 py-2 font-semibold text-plum' : 'sr-only'}>
      {words}
    </p>
  );
}

/** What stands in the way just now, the worst of it; `null` where nothing does. */
function noticeWords({
  isConnected,
  figures,
  isDatabaseAway,
}: Pick<Live, 'isConnected' | 'figures'> & ReturnType<typeof useHealth>): string | null {
  if (!isConnected)
    return 'We cannot reach the server just now. What is on air goes on; what you see here may be old. Reconnecting …';
  if (figures && !figures.nodeIsHere)
    return 'The media node does not answer the server. What is on air goes on by itself; nothing is known of it until it answers again.';
  const gone = figures?.points.find(({ presence }) => presence === 'away');
  if (gone)
    return `${gone.place} does not answer. What ran there goes on at another ingest point; encoders that do not follow by themselves have to send there.`;
  if (isDatabaseAway)
    return 'The house’s memory (its database) does not answer. Nothing on air changes, and what you type is kept and saved once it is back.';
  if (figures?.disk === 'full')
    return 'The disk is full: nothing is recorded, live goes on. Delete something in the archive.';
  if (figures?.disk === 'low')
    return 'The disk is nearly full. The bin is being emptied, oldest first; make room in the archive.';
  return null;
}
