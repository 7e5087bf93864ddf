import { createQuery, type QueryClient } from '@tanstack/svelte-query';
import { api, ApiError, body, type Schemas } from './client';

// Loopback is cheap: what somebody else decides, or the judge finishes, shows within seconds.
const FRESH_MS = 4000;

const retry = (count: number, error: Error): boolean => error instanceof ApiError && error.away && count < 1;
const common = { retry, refetchInterval: FRESH_MS, refetchOnWindowFocus: true };

export const useState = () =>
  createQuery<Schemas['State'], ApiError>(() => ({
    ...common,
    queryKey: ['state'],
    queryFn: () => body(api.GET('/api/state')),
  }));

export const usePeople = () =>
  createQuery<Schemas['Person'][], ApiError>(() => ({
    ...common,
    queryKey: ['people'],
    queryFn: () => body(api.GET('/api/people')),
  }));

export interface WallFilter {
  depot: string | null;
  find: string | null;
  by: 'need' | 'depot';
  offset: number;
  limit: number;
}

export const useWall = (filter: () => WallFilter) =>
  createQuery<Schemas['Wall'], ApiError>(() => {
    const { depot, find, by, offset, limit } = filter();
    const query = { by, offset, limit, ...(depot ? { depot } : {}), ...(find ? { find } : {}) };
    return {
      ...common,
      queryKey: ['wall', query],
      queryFn: () => body(api.GET('/api/wall', { params: { query } })),
      placeholderData: (before) => before,
    };
  });

export const useEngine = (code: () => string) =>
  createQuery<Schemas['EngineOut'], ApiError>(() => ({
    ...common,
    queryKey: ['engine', code()],
    queryFn: () => body(api.GET('/api/engines/{code}', { params: { path: { code: code() } } })),
  }));

export const useQueue = () =>
  createQuery<Schemas['QueueRow'][], ApiError>(() => ({
    ...common,
    queryKey: ['queue'],
    queryFn: () => body(api.GET('/api/queue')),
  }));

export const useSample = (code: () => string | null) =>
  createQuery<Schemas['SampleOut'], ApiError>(() => ({
    ...common,
    enabled: code() !== null,
    queryKey: ['sample', code()],
    queryFn: () => body(api.GET('/api/samples/{code}', { params: { path: { code: code() ?? '' } } })),
    placeholderData: (before) => before,
  }));

export const useHow = (of: () => { sample: string; column: string } | null) =>
  createQuery<Schemas['How'], ApiError>(() => ({
    enabled: of() !== null,
    queryKey: ['how', of()],
    queryFn: () =>
      body(
        api.GET('/api/samples/{code}/how/{column}', {
          params: { path: { code: of()?.sample ?? '', column: of()?.column ?? '' } },
        }),
      ),
  }));

export const useRuns = () =>
  createQuery<Schemas['RunRow'][], ApiError>(() => ({
    ...common,
    queryKey: ['runs'],
    queryFn: () => body(api.GET('/api/runs')),
  }));

export const useAmendments = () =>
  createQuery<Schemas['Amendment'][], ApiError>(() => ({
    ...common,
    queryKey: ['amendments'],
    queryFn: () => body(api.GET('/api/amendments')),
  }));

export const useSources = () =>
  createQuery<Schemas['SourceOut'][], ApiError>(() => ({
    ...common,
    queryKey: ['sources'],
    queryFn: () => body(api.GET('/api/exchange/sources')),
  }));

export const useRound = (depot: () => string | null, on: () => string | null = () => null) =>
  createQuery<Schemas['Round'], ApiError>(() => {
    const query = { ...(depot() ? { depot: depot() } : {}), ...(on() ? { on: on() } : {}) };
    return {
      ...common,
      queryKey: ['round', query],
      queryFn: () => body(api.GET('/api/round', { params: { query } })),
      placeholderData: (before) => before,
    };
  });

export const useStop = (code: () => string) =>
  createQuery<Schemas['StopAlone'], ApiError>(() => ({
    ...common,
    queryKey: ['stop', code()],
    queryFn: () => body(api.GET('/api/stops/{code}', { params: { path: { code: code() } } })),
  }));

export const useInbox = () =>
  createQuery<Schemas['Inbox'], ApiError>(() => ({
    ...common,
    queryKey: ['inbox'],
    queryFn: () => body(api.GET('/api/inbox')),
  }));

export const useQueries = () =>
  createQuery<Schemas['QueryOut'][], ApiError>(() => ({
    ...common,
    queryKey: ['queries'],
    queryFn: () => body(api.GET('/api/queries')),
  }));

export const useLogbook = (code: () => string) =>
  createQuery<Schemas['Logbook'], ApiError>(() => ({
    ...common,
    queryKey: ['logbook', code()],
    queryFn: () => body(api.GET('/api/engines/{code}/logbook', { params: { path: { code: code() } } })),
  }));

export const useSheet = (sample: () => string) =>
  createQuery<Schemas['Sheet'], ApiError>(() => ({
    retry,
    queryKey: ['sheet', sample()],
    queryFn: () => body(api.GET('/api/bottles/{sample}/figures', { params: { path: { sample: sample() } } })),
  }));

export const useEntries = (place: () => string) =>
  createQuery<Schemas['Entries'], ApiError>(() => ({
    retry,
    enabled: place() !== 'oils',
    queryKey: ['fleet', place()],
    queryFn: () => body(api.GET('/api/fleet/{place}', { params: { path: { place: place() } } })),
  }));

export const useChanges = (of: () => { place: string; code: string } | null) =>
  createQuery<Schemas['RecordChange'][], ApiError>(() => ({
    retry,
    enabled: of() !== null,
    queryKey: ['changes', of()],
    queryFn: () =>
      body(
        api.GET('/api/fleet/{place}/{code}/changes', {
          params: { path: { place: of()?.place ?? '', code: of()?.code ?? '' } },
        }),
      ),
  }));

export const useOils = () =>
  createQuery<Schemas['OilOut'][], ApiError>(() => ({
    retry,
    queryKey: ['oils'],
    queryFn: () => body(api.GET('/api/fleet/oils')),
  }));

export const useLimits = () =>
  createQuery<Schemas['Limits'], ApiError>(() => ({
    retry,
    queryKey: ['limits'],
    queryFn: () => body(api.GET('/api/library/limits')),
  }));

export const usePlans = (code: () => string) =>
  createQuery<Schemas['PlansBody'], ApiError>(() => ({
    retry,
    queryKey: ['plans', code()],
    queryFn: () => body(api.GET('/api/engines/{code}/plans', { params: { path: { code: code() } } })),
  }));

export const useTightened = () =>
  createQuery<Schemas['TightenedBody'], ApiError>(() => ({
    retry,
    queryKey: ['tightened'],
    queryFn: () => body(api.GET('/api/tightened')),
  }));

/** After a write everything on screen may have changed. */
export const refresh = (client: QueryClient) => client.invalidateQueries();
