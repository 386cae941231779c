/** Changes of many files at once, of customers' habits, and of letters. */
import { useQueryClient } from "@tanstack/react-query";
import { api, told, type Answered, type ChosenFile, type Customer, type Job, type JobRow } from "./client";
import { at, begun, useChange, type Stale } from "./changing";
import { queries, refresh } from "./queries";
import { pileQueries } from "./pileQueries";

const lists: Stale = (client) => {
  begun(client);
  void refresh(client, queries.lists());
};

/** The same mend for all chosen files. */
export const useMendAlike = () =>
  useChange(
    (body: { files: ChosenFile[]; kind: string; label: string }) =>
      told(api.POST("/api/alike/mend", { body })),
    lists,
  );

/** The same reason for all chosen findings. */
export const useAcceptAlike = () =>
  useChange(
    (body: { files: ChosenFile[]; reason: string }) => told(api.POST("/api/alike/accept", { body })),
    lists,
  );

/** Lines by the same preset for all chosen files. */
export const useMakeAlike = () =>
  useChange(
    (body: { files: ChosenFile[]; preset: string }) => told(api.POST("/api/alike/lines", { body })),
    lists,
  );

/** Nothing of the chosen files is cut. */
export const usePrintAlike = () =>
  useChange((files: ChosenFile[]) => told(api.POST("/api/alike/printed", { body: { files } })), lists);

/** The same answer for all chosen files. */
export const useAnswerAlike = () =>
  useChange(
    ({ files, answers }: { files: ChosenFile[]; answers: Partial<Answered> }) =>
      told(api.POST("/api/alike/answer", { body: { files, answers: { each_page: false, ...answers } } })),
    lists,
  );

/** Says whether a file is the corrected one of the job that it looks like; answers with the job that is left. */
export const useSayLike = () =>
  useChange(
    ({ job, take }: { job: Pick<JobRow, "id" | "version">; take: boolean }) =>
      told(api.POST("/api/jobs/{job_id}/like", { ...at(job.id), body: { version: job.version, take } })),
    lists,
  );

/** A change of a customer's habits answers with the customer. */
function useCustomerChange<Input>(name: string, run: (input: Input) => Promise<Customer>) {
  const client = useQueryClient();
  return useChange(
    async (input: Input) => {
      const now = await run(input);
      client.setQueryData(pileQueries.customer(name).queryKey, now);
      return now;
    },
    (all) => void all.invalidateQueries({ queryKey: ["shelf"] }),
  );
}

export const useLearn = (name: string) =>
  useCustomerChange(name, (take: boolean) =>
    told(api.POST("/api/customers/always", { body: { name, take } })),
  );

export const useDropHabit = (name: string) =>
  useCustomerChange(name, (what: { thing?: string; key?: string; declined?: boolean }) =>
    told(api.POST("/api/customers/drop", { body: { name, thing: "", key: "", declined: false, ...what } })),
  );

/** A letter answers with the job that it is about. */
function useLetter<Input>(job: Job, run: (input: Input) => Promise<Job>) {
  const client = useQueryClient();
  return useChange(
    async (input: Input) => {
      const now = await run(input);
      client.setQueryData(queries.job(job.id).queryKey, now);
      return now;
    },
    (all) => {
      lists(all);
      void refresh(all, queries.job(job.id));
    },
  );
}

export const useSendLetter = (job: Job) =>
  useLetter(job, (body: { keys: string[]; to: string; text: string; unit: "mm" | "in" }) =>
    told(api.POST("/api/jobs/{job_id}/letters", { ...at(job.id), body: { version: job.version, ...body } })),
  );

export const useSendProof = (job: Job) =>
  useLetter(job, (to: string) =>
    told(
      api.POST("/api/jobs/{job_id}/proofs", {
        ...at(job.id),
        body: { version: job.version, to, text: "" },
      }),
    ),
  );

export interface ProofAnswer {
  letter: number;
  answer: "approved" | "refused";
  signed_by: string;
  signed_on: string;
  note: string;
}

export const useAnswerProof = (job: Job) =>
  useLetter(job, ({ letter, ...body }: ProofAnswer) =>
    told(
      api.POST("/api/letters/{letter_id}/answer", {
        params: { path: { letter_id: letter } },
        body: { version: job.version, ...body },
      }),
    ),
  );
