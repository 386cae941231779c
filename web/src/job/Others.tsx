/** Who else is at the job just now; what they change appears here by itself. */
import { Chip } from "@mui/material";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Job } from "../api/client";
import { queries } from "../api/queries";
import { stationWords, type Station } from "./stations/names";
import { job as say } from "../texts/job";

export function Others({ job, station }: { job: Job; station: Station }) {
  const client = useQueryClient();
  const here = useQuery(queries.here(job.id, station));
  const newer = here.data !== undefined && here.data.version > job.version;
  useEffect(() => {
    // one that is on its way is left to come: a slow answer would never arrive where each look began it anew
    if (newer) void client.invalidateQueries(queries.job(job.id), { cancelRefetch: false });
  }, [client, job.id, newer, here.dataUpdatedAt]);
  return (
    <>
      {here.data?.others.map((one) => (
        <Chip
          key={one.name}
          size="small"
          variant="outlined"
          label={say.isHereToo(one.name)}
          title={one.station ? say.at(stationWords(one.station)) : undefined}
        />
      ))}
    </>
  );
}
