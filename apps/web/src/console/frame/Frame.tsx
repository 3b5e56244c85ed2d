import { Menu, Moon, Sun, X } from 'lucide-react';
import { useCallback, useEffect, useState } from 'react';
import { NavLink, Outlet, useLocation, useMatch } from 'react-router';
import { Toaster } from 'sonner';
import { signOut, useSession } from '../../data/session.js';
import { type Live, useHealth, useLive } from '../../data/live.js';
import { Button } from '../../ui/Button.js';
import { chooseLight, useLight } from '../../ui/light.js';
import { CommandPalette } from './CommandPalette.js';
import { KeysDialog } from './KeysDialog.js';
import { ROOMS } from './rooms.js';
import { LampStrip } from './LampStrip.js';
import { OnNow } from './OnNow.js';
import { useShortcuts } from './useShortcuts.js';
import { FRAME_TEXT } from '../../words/console/frame.js';

/** Around every room: the lamp strip, the row of rooms, and what is the matter with the connection. */
export function Frame() {
  const isDesk = useMatch('/events/:id/air') !== null;
  const light = useLight(isDesk ? 'booth' : 'day');
  const { data: session } = useSession();
  const [areKeysShown, setKeysShown] = useState(false);
  const showKeys = useCallback(() => setKeysShown(true), []);
  useShortcuts(showKeys);
  const [isMenuOpen, setMenuOpen] = useState(false);
  const { pathname } = useLocation();
  useEffect(() => setMenuOpen(false), [pathname]);
  return (
    <div data-light={light} className="flex min-h-screen flex-col bg-ground text-ink">
      <a
        href="#room"
        className="sr-only focus:not-sr-only focus:absolute focus:z-10 focus:bg-surface focus:p-3"
      >
        {FRAME_TEXT.skipToTheRoom}
      </a>
      <header className="border-b border-line bg-surface print:hidden">
        <LampStrip />
        <div className="flex items-center gap-3 px-3 py-1.5 md:hidden">
          <Button
            large
            kind="quiet"
            aria-expanded={isMenuOpen}
            aria-controls="rooms"
            onClick={() => setMenuOpen(!isMenuOpen)}
          >
            {isMenuOpen ? <X size={20} aria-hidden /> : <Menu size={20} aria-hidden />}
            Rooms
          </Button>
          <OnNow />
        </div>
        <div
          id="rooms"
          className={`min-h-[38px] flex-wrap items-center gap-1 px-3.5 pt-0.5 max-md:pb-2 md:flex ${isMenuOpen ? 'flex' : 'hidden'}`}
        >
          <nav aria-label={FRAME_TEXT.rooms} className="flex flex-wrap gap-1 max-md:w-full max-md:flex-col">
            {ROOMS.map(({ to, name }) => (
              <NavLink
                key={to}
                to={to}
                end={to === '/'}
                className="border-b-[3px] border-transparent px-2.5 pt-1.5 pb-1.5 text-ink-soft max-md:border-b-0 max-md:border-l-[3px] max-md:py-2.5 hover:text-ink aria-[current=page]:border-pine aria-[current=page]:font-semibold aria-[current=page]:text-ink"
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
            {light === 'day' ? FRAME_TEXT.boothLight : FRAME_TEXT.dayLight}
          </Button>
          <span className="px-2 text-[13px] text-ink-soft">{session?.person.name}</span>
          <Button
            kind="quiet"
            className="text-[13px] !font-normal text-ink-soft"
            onClick={() => void signOut()}
          >
            {FRAME_TEXT.signOut}
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
  if (!isConnected) return FRAME_TEXT.serverIsAway;
  if (figures && !figures.nodeIsHere) return FRAME_TEXT.nodeIsAway;
  const gone = figures?.points.find(({ presence }) => presence === 'away');
  if (gone) return FRAME_TEXT.isNotRespondingAnythingRunning(gone.place);
  if (isDatabaseAway) return FRAME_TEXT.theDatabaseIsNotResponding;
  if (figures?.disk === 'full') return FRAME_TEXT.diskIsFull;
  if (figures?.disk === 'low') return FRAME_TEXT.theDiskIsNearlyFull;
  return null;
}
