/** What is kept: recordings, and what was uploaded. */
export const ARCHIVE_PARTS = [
  { to: '/archive', name: 'Recordings' },
  { to: '/archive/files', name: 'Files' },
] as const;
