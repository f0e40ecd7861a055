import { infiniteQueryOptions, queryOptions } from "@tanstack/react-query";
import { api, take } from "./client";

/** Who changed what in the workspace, page by page. */
export const historyQuery = (workspace: string) =>
  infiniteQueryOptions({
    queryKey: ["history", workspace],
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/api/workspaces/{workspace}/history", {
          params: { path: { workspace }, query: { ...(pageParam && { after: pageParam }) } },
        }),
      ),
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
  });

/** Every time zone. */
export const timeZonesQuery = () =>
  queryOptions({
    queryKey: ["time-zones"],
    queryFn: () => take(api.GET("/api/time-zones")),
    staleTime: Infinity,
  });

/** What the member is told of by email. */
export const toldOfQuery = (workspace: string) =>
  queryOptions({
    queryKey: ["told-of", workspace],
    queryFn: () =>
      take(api.GET("/api/workspaces/{workspace}/told-of", { params: { path: { workspace } } })),
  });

/** Every country. */
export const countriesQuery = () =>
  queryOptions({
    queryKey: ["countries"],
    queryFn: () => take(api.GET("/api/countries")),
    staleTime: Infinity,
  });

/** Countries whose public holidays are known. */
export const holidayCountriesQuery = () =>
  queryOptions({
    queryKey: ["holiday-countries"],
    queryFn: () => take(api.GET("/api/holiday-countries")),
    staleTime: Infinity,
  });
