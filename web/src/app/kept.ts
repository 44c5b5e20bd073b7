import { createAsyncStoragePersister } from "@tanstack/query-async-storage-persister";
import type { PersistQueryClientProviderProps } from "@tanstack/react-query-persist-client";
import { createStore, del, get, set } from "idb-keyval";
import type { QueryClient } from "@tanstack/react-query";
import { KEPT } from "../api/changes";

const WEEK_MS = 7 * 24 * 3600 * 1000;
/** What came from the server, and what was last made of a run's readings. */
const LONG = [...KEPT, "understood"];
const store = createStore("rumek", "fetched");

/** What was fetched last is kept in this browser, so that a page reloaded while the server is away still shows it. */
export const keptInBrowser: PersistQueryClientProviderProps["persistOptions"] = {
  persister: createAsyncStoragePersister({
    key: "queries",
    storage: {
      getItem: (key) => get<string>(key, store),
      setItem: (key, value: string) => set(key, value, store),
      removeItem: (key) => del(key, store),
    },
  }),
  maxAge: WEEK_MS,
  buster: "1",
  dehydrateOptions: {
    shouldDehydrateQuery: ({ queryKey, state }) => state.status === "success" && LONG.includes(String(queryKey[0])),
  },
};

/** Stays in memory, and so in the browser's store, though no screen shows it; what is computed while typing does not. */
export function keepLong(client: QueryClient) {
  for (const key of LONG) client.setQueryDefaults([key], { gcTime: WEEK_MS });
}
