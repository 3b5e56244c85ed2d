import { useEffect } from 'react';
import { Route, Routes, useMatch } from 'react-router';
import { ApiError } from '../data/api.js';
import { useSession } from '../data/session.js';
import { LiveContext, useLiveConnection } from '../data/live.js';
import { heardServerTime } from '../data/server-clock.js';
import { useLight } from '../ui/light.js';
import { Failed, Loading } from '../ui/states.js';
import { ArchivePage } from './archive/ArchivePage.js';
import { ChatWindow } from './desk/ChatWindow.js';
import { DeskPage } from './desk/DeskPage.js';
import { DutiesByLetterPage } from './duties/DutiesByLetterPage.js';
import { DutiesPage } from './duties/DutiesPage.js';
import { EventPage } from './event/EventPage.js';
import { Frame } from './frame/Frame.js';
import { AccessPart } from './house/AccessPart.js';
import { ChannelsPart } from './house/ChannelsPart.js';
import { FilesPage } from './files/FilesPage.js';
import { HousePage } from './house/HousePage.js';
import { PeoplePart } from './house/PeoplePart.js';
import { RecordPart } from './house/RecordPart.js';
import { LanguagePart } from './house/LanguagePart.js';
import { SettingsPart } from './house/SettingsPart.js';
import { LookPage } from './look/LookPage.js';
import { AddressSheetPage } from './websites/AddressSheetPage.js';
import { WebsitesPage } from './websites/WebsitesPage.js';
import { WatchingPage } from './watching/WatchingPage.js';
import { NotHere } from './frame/NotHere.js';
import { EventOrderPage } from './order/EventOrderPage.js';
import { SeriesOrderPage } from './order/SeriesOrderPage.js';
import { LinkedPage } from './places/LinkedPage.js';
import { PlacesPage } from './places/PlacesPage.js';
import { WelcomePage } from './sign-in/WelcomePage.js';
import { SignInPage } from './sign-in/SignInPage.js';
import { CalendarPage } from './calendar/CalendarPage.js';
import { ReportPage } from './report/ReportPage.js';
import { ViewerReportsPage } from './report/ViewerReports.js';
import { SeriesListPage } from './series/SeriesListPage.js';
import { SeriesPage } from './series/SeriesPage.js';
import { CameraPage } from './sources/CameraPage.js';
import { SourceSheetPage } from './sources/SourceSheetPage.js';
import { SourcesPage } from './sources/SourcesPage.js';
import { WallPage } from './wall/WallPage.js';
import { WeekPage } from './week/WeekPage.js';
import { FRAME_TEXT } from '../words/console/frame.js';

/** The console: signed in or not, and which room. */
export function App() {
  const { data: session, error, isLoading, mutate } = useSession();
  const light = useLight('day');
  const isWelcome = useMatch('/welcome/:secret') !== null;
  const isByLetter = useMatch('/duties/:secret') !== null;
  useEffect(() => {
    document.documentElement.dataset.light = light;
  }, [light]);
  useEffect(() => {
    if (session) heardServerTime(session.serverNowMs);
  }, [session]);

  if (isWelcome || isByLetter) return <LetterRoutes />;
  // What was known of the session stays when it ends: the refusal counts.
  if (error instanceof ApiError && error.status === 401) return <SignInPage />;
  if (session) return <House />;
  if (isLoading) return <Loading what={FRAME_TEXT.theConsole} />;
  return (
    <main className="mx-auto max-w-2xl p-10">
      <Failed error={error} onRetry={() => void mutate()} />
    </main>
  );
}

/** The links of letters work for anyone who holds them, signed in or not. */
const LetterRoutes = () => (
  <Routes>
    <Route path="welcome/:secret" element={<WelcomePage />} />
    <Route path="duties/:secret" element={<DutiesByLetterPage />} />
  </Routes>
);

function House() {
  const live = useLiveConnection();
  return (
    <LiveContext value={live}>
      <Routes>
        <Route path="events/:id/chat" element={<ChatWindow />} />
        <Route path="wall" element={<WallPage />} />
        <Route path="linked/:platform" element={<LinkedPage />} />
        <Route element={<Frame />}>
          <Route index element={<WeekPage />} />
          <Route path="events/:id/air" element={<DeskPage />} />
          <Route path="events/:id/report" element={<ReportPage />} />
          <Route path="events/:id/viewers" element={<ViewerReportsPage />} />
          <Route path="events/:id/:stage?" element={<EventPage />} />
          <Route path="calendar" element={<CalendarPage />} />
          <Route path="duties" element={<DutiesPage />} />
          <Route path="series" element={<SeriesListPage />} />
          <Route path="events/:id/order" element={<EventOrderPage />} />
          <Route path="series/:id/order" element={<SeriesOrderPage />} />
          <Route path="series/:id" element={<SeriesPage />} />
          <Route path="sources" element={<SourcesPage />} />
          <Route path="sources/:id/camera" element={<CameraPage />} />
          <Route path="sources/:id/sheet" element={<SourceSheetPage />} />
          <Route path="places" element={<PlacesPage />} />
          <Route path="archive" element={<ArchivePage />} />
          <Route path="archive/files" element={<FilesPage />} />
          <Route path="look/:level/:id?" element={<LookPage />} />
          <Route path="watching/:level/:id?" element={<WatchingPage />} />
          <Route path="websites/:level/:id" element={<WebsitesPage />} />
          <Route path="websites/:level/:id/sheet" element={<AddressSheetPage />} />
          <Route path="house" element={<HousePage />}>
            <Route index element={<PeoplePart />} />
            <Route path="channels" element={<ChannelsPart />} />
            <Route path="access" element={<AccessPart />} />
            <Route path="look" element={<SettingsPart />} />
            <Route path="language" element={<LanguagePart />} />
            <Route path="record" element={<RecordPart />} />
          </Route>
          <Route path="*" element={<NotHere />} />
        </Route>
      </Routes>
    </LiveContext>
  );
}
