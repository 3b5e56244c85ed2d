import { useEffect } from 'react';
import { Route, Routes } from 'react-router';
import { ApiError } from '../data/api.js';
import { useSession } from '../data/house.js';
import { LiveContext, useLiveConnection } from '../data/live.js';
import { heardServerTime } from '../data/server-clock.js';
import { useLight } from '../ui/light.js';
import { Failed, Loading } from '../ui/states.js';
import { ArchivePage } from './archive/ArchivePage.js';
import { DeskPage } from './desk/DeskPage.js';
import { EventPage } from './event/EventPage.js';
import { Frame } from './frame/Frame.js';
import { NotHere } from './frame/NotHere.js';
import { PlacesPage } from './places/PlacesPage.js';
import { SignInPage } from './sign-in/SignInPage.js';
import { SourcesPage } from './sources/SourcesPage.js';
import { WeekPage } from './week/WeekPage.js';

/** The console: signed in or not, and which room. */
export function App() {
  const { data: session, error, isLoading, mutate } = useSession();
  const light = useLight('day');
  useEffect(() => {
    document.documentElement.dataset.light = light;
  }, [light]);
  useEffect(() => {
    if (session) heardServerTime(session.serverNowMs);
  }, [session]);

  if (session) return <House />;
  if (isLoading) return <Loading what="the console" />;
  if (error instanceof ApiError && error.status === 401) return <SignInPage />;
  return (
    <main className="mx-auto max-w-2xl p-10">
      <Failed error={error} onRetry={() => void mutate()} />
    </main>
  );
}

function House() {
  const live = useLiveConnection();
  return (
    <LiveContext value={live}>
      <Routes>
        <Route element={<Frame />}>
          <Route index element={<WeekPage />} />
          <Route path="events/:id/air" element={<DeskPage />} />
          <Route path="events/:id/:stage?" element={<EventPage />} />
          <Route path="sources" element={<SourcesPage />} />
          <Route path="places" element={<PlacesPage />} />
          <Route path="archive" element={<ArchivePage />} />
          <Route path="*" element={<NotHere />} />
        </Route>
      </Routes>
    </LiveContext>
  );
}
