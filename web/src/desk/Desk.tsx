/** All jobs, due first. Files and folders dropped anywhere, or pasted, are taken in. */
import { Spacer } from "../ui/Row";
import { Box, Button, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useEffect, useRef, useState, type ChangeEvent } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { useMay } from "../api/may";
import { queries } from "../api/queries";
import { Arrivals } from "./Arrivals";
import { AskedAlike } from "./AskedAlike";
import { GROUPS } from "./groups";
import { JobList } from "./JobList";
import { SharedSheets } from "./SharedSheets";
import { filesOf, isZip, useTakingIn } from "./takingIn";
import { useReach } from "../ui/still";
import { desk as say } from "../texts/desk";

const KINDS = ".pdf,.ai,.eps,.ps,.svg,.png,.jpg,.jpeg,.tif,.tiff,.plt,.hpgl,.hpg,.dxf,.zip";

export function Desk() {
  const go = useNavigate();
  const taking = useTakingIn((job) => void go(`/jobs/${job}`));
  const { group, search, ask } = useAsked();
  const [customer, setCustomer] = useState("");
  const [over, setOver] = useState(false);
  const mayTakeIn = useMay("take-in");
  const add = (files: File[], customer: string) => {
    if (!mayTakeIn) return;
    if (files.some(isZip))
      void import("./zipped")
        .then(({ unzipped }) => unzipped(files))
        .then((found) => taking.add(found, customer));
    else taking.add(files, customer);
  };
  usePasted((files) => add(files, customer));
  const wanted = useDeferredValue(search.trim());
  const { held, reaching } = useReach(`${group} ${wanted}`);
  const counts = useQuery(queries.counts(wanted));
  const customers = useQuery(queries.customers());
  const count = (name: string) => counts.data?.[name] ?? "…";
  return (
    <Box
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void filesOf(event.dataTransfer).then((found) => add(found, customer));
      }}
      sx={{
        minHeight: "100%",
        px: 3,
        py: 2,
        outline: over ? "3px solid" : "none",
        outlineColor: "primary.main",
        outlineOffset: -6,
      }}
    >
      <Stack direction="row" useFlexGap spacing={1.5} sx={{ alignItems: "center", mb: 1 }}>
        <Typography variant="h1">{say.desk}</Typography>
        <Spacer />
        <Typography variant="body2" color="text.secondary" sx={{ maxWidth: 345, lineHeight: 1.25 }}>
          {mayTakeIn ? say.dropOrPasteArtworkAnywhere : say.youMayLookAtJobs}
        </Typography>
        {mayTakeIn && (
          <TextField
            label={say.forWhichCustomer}
            value={customer}
            onChange={(e) => setCustomer(e.target.value)}
            sx={{ width: 200 }}
            slotProps={{ htmlInput: { list: "known-customers", autoComplete: "off" } }}
          />
        )}
        <datalist id="known-customers">
          {customers.data?.map((name) => (
            <option key={name} value={name} />
          ))}
        </datalist>
        {mayTakeIn && <Choosers onFiles={(files) => add(files, customer)} />}
      </Stack>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: "center", mb: 1.5 }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={group}
          onChange={(_, next) => next && ask("group", next === "all" ? "" : next)}
          aria-label={say.whichJobsLabel}
        >
          {Object.entries(GROUPS).map(([name, words]) => (
            <ToggleButton key={name} value={name}>
              {words} · {count(name)}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <TextField
          label={say.search}
          value={search}
          onChange={(e) => ask("search", e.target.value)}
          sx={{ width: 220 }}
        />
      </Stack>
      <Arrivals
        arrivals={taking.arrivals}
        onStop={taking.stop}
        onAgain={taking.again}
        onClear={taking.clear}
      />
      <AskedAlike held={held} />
      <SharedSheets held={held} />
      <JobList group={group} wanted={wanted} held={held} reaching={reaching} />
    </Box>
  );
}

/** Which jobs are asked for, as the address says. */
function useAsked() {
  const [asked, setAsked] = useSearchParams();
  const ask = (key: "group" | "search", value: string) =>
    setAsked(
      (before) => {
        if (value) before.set(key, value);
        else before.delete(key);
        return before;
      },
      { replace: true },
    );
  return { group: asked.get("group") ?? "all", search: asked.get("search") ?? "", ask };
}

/** Files that are pasted anywhere on the page. */
function usePasted(onFiles: (files: File[]) => void) {
  const heard = useRef(onFiles);
  useEffect(() => {
    heard.current = onFiles;
  });
  useEffect(() => {
    const onPaste = (event: ClipboardEvent) => {
      const found = [...(event.clipboardData?.files ?? [])];
      if (!found.length) return;
      event.preventDefault();
      heard.current(found);
    };
    window.addEventListener("paste", onPaste);
    return () => window.removeEventListener("paste", onPaste);
  }, []);
}

/** The buttons for those who do not drop. */
function Choosers({ onFiles }: { onFiles: (files: File[]) => void }) {
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const chosen = (event: ChangeEvent<HTMLInputElement>) => {
    onFiles([...(event.target.files ?? [])]);
    event.target.value = "";
  };
  return (
    <>
      <Button variant="outlined" size="medium" onClick={() => folder.current?.click()}>
        {say.chooseAFolder}
      </Button>
      <Button variant="contained" size="medium" onClick={() => files.current?.click()}>
        {say.chooseFiles}
      </Button>
      <input
        ref={files}
        type="file"
        accept={KINDS}
        multiple
        hidden
        aria-label={say.customersFilesLabel}
        data-testid="files"
        onChange={chosen}
      />
      <input
        ref={folder}
        type="file"
        multiple
        hidden
        aria-label={say.aFolderOfCustomersFiles}
        data-testid="folder"
        {...{ webkitdirectory: "" }}
        onChange={chosen}
      />
    </>
  );
}
