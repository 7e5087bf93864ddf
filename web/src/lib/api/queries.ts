import { followServer } from '../clock';
import type { Order } from '../wall/window';
import { createQuery, type QueryClient } from '@tanstack/svelte-query';
import { api, ApiError, body, type Schemas } from './client';

// What somebody else decides, or the judge finishes, shows within seconds: every page asks for one
// cheap state, and asks for the rest again only when its mark has moved.
const FRESH_MS = 4000;

const retry = (count: number, error: Error): boolean => error instanceof ApiError && error.away && count < 1;
const common = { retry, staleTime: Infinity };

export const useState = () =>
  createQuery<Schemas['State'], ApiError>(() => ({
    retry,
    refetchInterval: FRESH_MS,
    refetchOnWindowFocus: true,
    queryKey: ['state'],
    queryFn: async () => {
      const state = await body(api.GET('/api/state'));
      followServer(state.now);
      return state;
    },
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
  by: Order;
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
    enabled: code() !== '',
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

/** A window of the engines by who needs someone; `find` narrows it at the server. */
export const useRuns = (of: () => { find: string; limit: number } | null) =>
  createQuery<Schemas['Runs'], ApiError>(() => {
    const asked = of();
    const query = { limit: asked?.limit ?? 1, ...(asked?.find ? { find: asked.find } : {}) };
    return {
      ...common,
      enabled: asked !== null,
      queryKey: ['runs', query],
      queryFn: () => body(api.GET('/api/runs', { params: { query } })),
      placeholderData: (before) => before,
    };
  });

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

export const useBackups = () =>
  createQuery<Schemas['Standing'], ApiError>(() => ({
    ...common,
    queryKey: ['backups'],
    queryFn: () => body(api.GET('/api/exchange/backups')),
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
    enabled: code() !== '',
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
    ...common,
    queryKey: ['sheet', sample()],
    queryFn: () => body(api.GET('/api/bottles/{sample}/figures', { params: { path: { sample: sample() } } })),
  }));

export const useEntries = (place: () => string) =>
  createQuery<Schemas['Entries'], ApiError>(() => ({
    ...common,
    enabled: place() !== 'oils',
    queryKey: ['fleet', place()],
    queryFn: () => body(api.GET('/api/fleet/{place}', { params: { path: { place: place() } } })),
  }));

export const useChanges = (of: () => { place: string; code: string } | null) =>
  createQuery<Schemas['RecordChange'][], ApiError>(() => ({
    ...common,
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
    ...common,
    queryKey: ['oils'],
    queryFn: () => body(api.GET('/api/fleet/oils')),
  }));

export const useLimits = () =>
  createQuery<Schemas['Limits'], ApiError>(() => ({
    ...common,
    queryKey: ['limits'],
    queryFn: () => body(api.GET('/api/library/limits')),
  }));

export const useLooks = (engine: () => string | null) =>
  createQuery<Schemas['LookLine'][], ApiError>(() => {
    const code = engine();
    return {
      ...common,
      queryKey: ['looks', code],
      queryFn: () => body(api.GET('/api/looks', { params: { query: code ? { engine: code } : {} } })),
    };
  });

export const useLook = (id: () => string) =>
  createQuery<Schemas['LookOut'], ApiError>(() => ({
    ...common,
    queryKey: ['look', id()],
    queryFn: () => body(api.GET('/api/looks/{key}', { params: { path: { key: id() } } })),
  }));

export const usePicture = (id: () => string) =>
  createQuery<Schemas['PictureBeside'], ApiError>(() => ({
    ...common,
    queryKey: ['picture', id()],
    queryFn: () => body(api.GET('/api/pictures/{photo}', { params: { path: { photo: id() } } })),
  }));

export const useOpened = (code: () => string) =>
  createQuery<Schemas['OpenedOut'], ApiError>(() => ({
    ...common,
    queryKey: ['opened', code()],
    queryFn: () => body(api.GET('/api/engines/{code}/opened', { params: { path: { code: code() } } })),
  }));

export const useCases = (engine: () => string) =>
  createQuery<Schemas['CaseLine'][], ApiError>(() => ({
    ...common,
    queryKey: ['cases', engine()],
    queryFn: () => body(api.GET('/api/cases', { params: { query: { engine: engine() } } })),
  }));

export const useCase = (id: () => string) =>
  createQuery<Schemas['CaseOut'], ApiError>(() => ({
    ...common,
    queryKey: ['case', id()],
    queryFn: () => body(api.GET('/api/cases/{key}', { params: { path: { key: id() } } })),
  }));

export const usePlan = (
  depot: () => string,
  weeks: () => number,
  limit: () => number,
  byRisk: () => boolean,
) =>
  createQuery<Schemas['PlanOut'], ApiError>(() => ({
    ...common,
    queryKey: ['plan', depot(), weeks(), limit(), byRisk()],
    queryFn: () =>
      body(
        api.GET('/api/plan', {
          params: { query: { depot: depot() || null, weeks: weeks(), limit: limit(), by_risk: byRisk() } },
        }),
      ),
  }));

export const useDial = () =>
  createQuery<Schemas['Dial'], ApiError>(() => ({
    ...common,
    queryKey: ['dial'],
    queryFn: () => body(api.GET('/api/library/dial')),
  }));

export const useWeights = () =>
  createQuery<Schemas['WeightsOut'], ApiError>(() => ({
    ...common,
    queryKey: ['weights'],
    queryFn: () => body(api.GET('/api/library/weights')),
  }));

export const usePlans = (code: () => string) =>
  createQuery<Schemas['PlansOut'], ApiError>(() => ({
    ...common,
    queryKey: ['plans', code()],
    queryFn: () => body(api.GET('/api/engines/{code}/plans', { params: { path: { code: code() } } })),
  }));

export const useTightened = () =>
  createQuery<Schemas['TightenedBody'], ApiError>(() => ({
    ...common,
    queryKey: ['tightened'],
    queryFn: () => body(api.GET('/api/tightened')),
  }));

/** Asks for everything on screen again whenever the state's mark has moved, or the server is back. */
export function follow(client: QueryClient): () => void {
  let mark: number | null = null;
  let away = false;
  return client.getQueryCache().subscribe((event) => {
    if (event.type !== 'updated' || event.query.queryKey[0] !== 'state') return;
    if (event.action.type === 'error') away = true;
    if (event.action.type !== 'success') return;
    const now = (event.query.state.data as Schemas['State']).mark;
    if ((mark !== null && now !== mark) || away) {
      void client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'state' });
    }
    mark = now;
    away = false;
  });
}

/** After a write everything on screen may have changed. */
export const refresh = (client: QueryClient) => client.invalidateQueries();

export const useAverages = () =>
  createQuery<Schemas['AverageRow'][], ApiError>(() => ({
    ...common,
    queryKey: ['averages'],
    queryFn: () => body(api.GET('/api/library/averages')),
  }));

export const useArrived = () =>
  createQuery<Schemas['Waiting'][], ApiError>(() => ({
    ...common,
    queryKey: ['arrived'],
    queryFn: () => body(api.GET('/api/exchange/arrived')),
  }));

export const useProgramKeys = () =>
  createQuery<Schemas['KeyOut'][], ApiError>(() => ({
    ...common,
    queryKey: ['program keys'],
    queryFn: () => body(api.GET('/api/keys')),
  }));

const BOX_MS = 1000;
export const useBox = () =>
  createQuery<Schemas['BoxOut'], ApiError>(() => ({
    ...common,
    queryKey: ['box'],
    queryFn: () => body(api.GET('/api/box')),
    refetchInterval: (query) =>
      query.state.data?.state === 'filling' || query.state.data?.state === 'emptying' ? BOX_MS : false,
  }));
