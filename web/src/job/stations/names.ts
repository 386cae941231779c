/** The stations of a job by name, in their order, as the core has them. */
import { looks } from "../../api/looks";

export type Station = "check" | "lines" | "stack" | "sheet" | "cut" | "release";
export const STATIONS = looks.stations.map(({ id, words }): [Station, string] => [id as Station, words]);

/** The station that an address names; undefined for none. */
export const stationAt = (name: string): Station | undefined => STATIONS.find(([key]) => key === name)?.[0];

/** What a station is called. */
export const stationWords = (name: string): string => STATIONS.find(([key]) => key === name)?.[1] ?? name;
