import { QueryFailedError } from 'typeorm';

const AWAY = new Set(['ECONNREFUSED', 'PROTOCOL_CONNECTION_LOST', 'ECONNRESET', 'ER_CON_COUNT_ERROR']);

interface DriverFault {
  readonly code?: string;
  readonly errno?: number;
  /** The connection cannot go on: it was lost, never came about, or was closed meanwhile. */
  readonly fatal?: boolean;
}

const faultOf = (error: unknown): DriverFault | null => {
  const cause: unknown = error instanceof QueryFailedError ? error.driverError : error;
  return typeof cause === 'object' && cause !== null ? cause : null;
};

/** Whether a query failed since the database is not there, or stands still: asked again, it may well succeed. */
export function isDatabaseAway(error: unknown): boolean {
  const fault = faultOf(error);
  return fault !== null && (fault.fatal === true || AWAY.has(fault.code ?? ''));
}

/** A key that is unique was taken (MariaDB, error 1062): somebody did the same at the same moment. */
export const isDuplicate = (error: unknown): boolean =>
  error instanceof QueryFailedError && faultOf(error)?.errno === 1062;
