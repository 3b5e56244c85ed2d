import useSWR from 'swr';
import type { RecordingView, RecordingFiles, EditRecording } from '@heliphon/contracts/house';
import type { Page } from '@heliphon/contracts/problem';
import { ask } from './api.js';
import { fetcher, thenRefresh } from './cache.js';

export const useRecordingFiles = (id: string | null) =>
  useSWR<RecordingFiles>(id && `/api/recordings/${id}/files`, fetcher);

export const useRecordings = (isBin: boolean, after: string | null) =>
  useSWR<Page<RecordingView>>(
    `/api/recordings?limit=30${isBin ? '&in=bin' : ''}${after ? `&after=${encodeURIComponent(after)}` : ''}`,
    fetcher,
  );

export const editRecording = (recording: RecordingView, change: EditRecording): Promise<RecordingView> =>
  thenRefresh(
    'recordings',
    ask(`/api/recordings/${recording.id}`, { method: 'PATCH', version: recording.version, body: change }),
  );

export const binRecording = (id: string): Promise<RecordingView> =>
  thenRefresh('recordings', ask(`/api/recordings/${id}/bin`, { method: 'POST' }));

export const restoreRecording = (id: string): Promise<RecordingView> =>
  thenRefresh('recordings', ask(`/api/recordings/${id}/restore`, { method: 'POST' }));

export const deleteRecording = (id: string): Promise<void> =>
  thenRefresh('recordings', ask(`/api/recordings/${id}`, { method: 'DELETE' }));

export function setRecordingPoster(id: string, picture: Blob): Promise<RecordingView> {
  const form = new FormData();
  form.set('poster', picture, 'poster.jpg');
  return thenRefresh('recordings', ask(`/api/recordings/${id}/poster`, { method: 'POST', form }));
}
