import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import {
  answered,
  api,
  type ChargerDoc,
  type LeadDoc,
  type LinksDoc,
  type LogMappingDoc,
  type PackDoc,
  type PlanDoc,
  type RecordDoc,
  type RescueCaseDoc,
  type RunDoc,
  type Schemas,
  type SourceDoc,
} from "./client";
import { newId } from "./id";

/** What each shelf keeps. */
export interface Documents {
  packs: PackDoc;
  supplies: SourceDoc;
  chargers: ChargerDoc;
  leads: LeadDoc;
  plans: PlanDoc;
  rescues: RescueCaseDoc;
  runs: RunDoc;
  "log-mappings": LogMappingDoc;
  records: RecordDoc;
}
export type Shelf = keyof Documents;
/** What stands on a shelf by itself, to be taken into plans. */
export type Kept = Exclude<Shelf, "plans" | "rescues" | "runs" | "log-mappings" | "records">;
export type Stored<S extends Shelf> = Omit<Schemas["StoredPackDoc"], "document"> & { document: Documents[S] };

export interface Draft<S extends Shelf> {
  id?: string;
  version?: number;
  document: Documents[S];
  links?: LinksDoc;
}

// The shelves answer the same requests; the compiler is shown one of them.
const list = (shelf: Shelf) => `/api/${shelf}` as "/api/packs";
const item = (shelf: Shelf) => `/api/${shelf}/{id}` as "/api/packs/{id}";

function fetchRows<S extends Shelf>(shelf: S, archived = false, signal?: AbortSignal): Promise<Stored<S>[]> {
  return answered(api.GET(list(shelf), { params: { query: { archived } }, signal }));
}

export function useRows<S extends Shelf>(shelf: S, archived = false, enabled = true) {
  return useQuery({ queryKey: [shelf, { archived }], enabled, queryFn: ({ signal }) => fetchRows(shelf, archived, signal) });
}

export function useRow<S extends Shelf>(shelf: S, id: string | undefined) {
  return useQuery({
    queryKey: [shelf, id],
    enabled: id !== undefined,
    queryFn: ({ signal }) =>
      answered(api.GET(item(shelf), { params: { path: { id: id ?? "" } }, signal })) as Promise<Stored<S>>,
  });
}

/** What hangs on a shelf: its rows and, of packs and what is known of them, the shelf as it is sorted. */
const about =
  (shelf: Shelf) =>
  ({ queryKey }: { queryKey: readonly unknown[] }) =>
    queryKey[0] === shelf || ((shelf === "packs" || shelf === "records") && queryKey[0] === "shelf");

/** Saves something new, or over the version it is based on. */
export function useSave<S extends Shelf>(shelf: S) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, version, document, links }: Draft<S>) => {
      const body = { id: id ?? newId(), version, document, links } as Schemas["DraftPackDoc"];
      const call =
        version === undefined
          ? api.POST(list(shelf), { body })
          : api.PUT(item(shelf), { params: { path: { id: body.id ?? "" } }, body });
      return answered(call);
    },
    onSuccess: () => client.invalidateQueries({ predicate: about(shelf) }),
  });
}

/** Puts something away, or takes it out again. */
export function usePutAway(shelf: Shelf) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, version, away }: { id: string; version: number; away: boolean }) => {
      const path = `${item(shelf)}/${away ? "archive" : "restore"}` as "/api/packs/{id}/archive";
      return answered(api.POST(path, { params: { path: { id } }, body: { version } }));
    },
    // Refused because it was changed in between: the list is to show what stands.
    onSettled: () => client.invalidateQueries({ predicate: about(shelf) }),
  });
}
