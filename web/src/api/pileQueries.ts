/** Questions about piles, customers, letters and figures: asked on pages of their own, and fetched with these. */
import { infiniteQueryOptions, keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, told, type JobRow } from "./client";

const FEW_ROWS = 12;

// Their keys begin as those of the lists do: when work has ended, both are asked anew.
export const pileQueries = {
  /** One such group with its files. */
  alikeGroup: (key: string) =>
    queryOptions({
      queryKey: ["jobs", "alike", key],
      enabled: key !== "",
      retry: false,
      queryFn: () => told(api.GET("/api/alike/group", { params: { query: { key } } })),
    }),

  /** All customers with their figures. */
  customersAll: () =>
    queryOptions({
      queryKey: ["jobs", "customers", "all"],
      queryFn: () => told(api.GET("/api/customers/all")),
    }),

  customer: (name: string) =>
    queryOptions({
      queryKey: ["jobs", "customer", name],
      queryFn: () => told(api.GET("/api/customers/page", { params: { query: { name } } })),
    }),

  /** A customer's jobs, the latest first. */
  jobsOf: (customer: string) =>
    infiniteQueryOptions({
      queryKey: ["jobs", "of", customer],
      queryFn: ({ pageParam }) =>
        told(api.GET("/api/jobs", { params: { query: { customer, offset: pageParam, limit: FEW_ROWS } } })),
      initialPageParam: 0,
      getNextPageParam: (last: JobRow[], pages: JobRow[][]) =>
        last.length === FEW_ROWS ? pages.length * FEW_ROWS : undefined,
    }),

  /** Letters that were sent: all, or those to a customer. */
  letters: (customer?: string) =>
    queryOptions({
      queryKey: ["jobs", "letters", customer ?? null],
      queryFn: () =>
        told(api.GET("/api/letters", { params: { query: customer === undefined ? {} : { customer } } })),
    }),

  /** The figures of the shop between two days. */
  figures: (since: string, until: string) =>
    queryOptions({
      queryKey: ["figures", since, until],
      queryFn: () => told(api.GET("/api/figures", { params: { query: { since, until } } })),
      placeholderData: keepPreviousData,
    }),
};
