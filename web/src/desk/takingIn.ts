/** Files on their way in: sent one after the other, each with its progress, each to be stopped by itself. */
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { cookie, type TakenIn } from "../api/client";
import { queries, refresh } from "../api/queries";
import { desk as say } from "../texts/desk";

export interface Arrival {
  key: number;
  name: string;
  file: File;
  customer: string;
  state: "waiting" | "sending" | "taken" | "known" | "refused" | "stopped";
  share: number;
  said: string;
  job?: number;
}

const MOST_FILES = 500;

/** An archive, whose files come in each by itself. */
export const isZip = (file: File) => /\.zip$/i.test(file.name);

/** Every file of a drop, those in folders too. */
export async function filesOf(data: DataTransfer): Promise<File[]> {
  const entries = [...data.items]
    .map((item) => item.webkitGetAsEntry?.())
    .filter((entry) => entry !== null && entry !== undefined);
  if (!entries.some((entry) => entry.isDirectory)) return [...data.files];
  const found: File[] = [];
  const visit = async (entry: FileSystemEntry): Promise<void> => {
    if (found.length >= MOST_FILES || entry.name.startsWith(".")) return;
    if (entry.isFile)
      found.push(await new Promise<File>((give, fail) => (entry as FileSystemFileEntry).file(give, fail)));
    else {
      const reader = (entry as FileSystemDirectoryEntry).createReader();
      for (;;) {
        const some = await new Promise<FileSystemEntry[]>((give, fail) => reader.readEntries(give, fail));
        if (!some.length) return;
        for (const one of some) await visit(one);
      }
    }
  };
  for (const entry of entries) await visit(entry);
  return found;
}

function send(
  arrival: Arrival,
  again: boolean,
  progress: (share: number) => void,
  request: XMLHttpRequest,
): Promise<TakenIn> {
  return new Promise((give, fail) => {
    const form = new FormData();
    form.append("file", arrival.file);
    form.append("customer", arrival.customer);
    form.append("again", String(again));
    request.upload.onprogress = (event) => event.lengthComputable && progress(event.loaded / event.total);
    request.onerror = () => fail(new Error(say.theServerCannotBeReached));
    request.onabort = () => fail(new DOMException("stopped", "AbortError"));
    request.onload = () => {
      try {
        const answer = JSON.parse(request.responseText) as TakenIn & { message?: string };
        if (request.status < 300) give(answer);
        else fail(new Error(answer.message ?? say.theServerAnsweredTryAgain(request.status)));
      } catch {
        fail(new Error(say.theServerAnsweredTryAgain(request.status)));
      }
    };
    request.open("POST", "/api/jobs");
    request.setRequestHeader("X-CSRFToken", cookie("csrftoken"));
    request.send(form);
  });
}

/** `onAlone` hears the job that a single file has become, so that it can be opened. */
export function useTakingIn(onAlone: (job: number) => void) {
  const client = useQueryClient();
  const alone = useRef(onAlone);
  useEffect(() => {
    alone.current = onAlone;
    return () => {
      alone.current = () => undefined; // who has gone elsewhere meanwhile stays there
    };
  });
  const [arrivals, setArrivals] = useState<Arrival[]>([]);
  const next = useRef(1);
  const line = useRef<Promise<void>>(Promise.resolve());
  const requests = useRef(new Map<number, XMLHttpRequest>());
  const stopped = useRef(new Set<number>());

  const change = useCallback(
    (key: number, values: Partial<Arrival>) =>
      setArrivals((before) => before.map((one) => (one.key === key ? { ...one, ...values } : one))),
    [],
  );

  const take = useCallback(
    async (arrival: Arrival, again: boolean, opens: boolean) => {
      if (stopped.current.has(arrival.key)) return;
      const request = new XMLHttpRequest();
      requests.current.set(arrival.key, request);
      change(arrival.key, { state: "sending", share: 0, said: "" });
      try {
        const { job, known } = await send(arrival, again, (share) => change(arrival.key, { share }), request);
        change(arrival.key, {
          state: known ? "known" : "taken",
          share: 1,
          job: job.id,
          said: known ? job.name : "",
        });
        void refresh(client, queries.works());
        void refresh(client, queries.lists());
        if (opens && !known) alone.current(job.id);
      } catch (error) {
        const halted = (error as Error).name === "AbortError";
        change(arrival.key, {
          state: halted ? "stopped" : "refused",
          said: halted ? "" : (error as Error).message,
        });
      } finally {
        requests.current.delete(arrival.key);
      }
    },
    [change, client],
  );

  const queue = useCallback(
    (arrival: Arrival, again: boolean, opens: boolean) => {
      line.current = line.current.then(() => take(arrival, again, opens));
    },
    [take],
  );

  const add = useCallback(
    (files: File[], customer: string) => {
      const fresh = files.slice(0, MOST_FILES).map((file): Arrival => ({
        key: next.current++,
        name: file.name || "pasted.png",
        file,
        customer,
        state: "waiting",
        share: 0,
        said: "",
      }));
      setArrivals((before) => [...before.filter((one) => one.state !== "taken"), ...fresh]);
      fresh.forEach((arrival) => queue(arrival, false, fresh.length === 1));
    },
    [queue],
  );

  const stop = useCallback(
    (key: number) => {
      stopped.current.add(key);
      requests.current.get(key)?.abort();
      change(key, { state: "stopped" });
    },
    [change],
  );

  const again = useCallback(
    (arrival: Arrival) => {
      stopped.current.delete(arrival.key);
      queue(arrival, true, true);
    },
    [queue],
  );
  const clear = useCallback(
    (key: number) => setArrivals((before) => before.filter((one) => one.key !== key)),
    [],
  );
  return { arrivals, add, stop, again, clear };
}
