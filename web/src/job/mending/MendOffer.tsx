/** A mend that is offered: done in one press, with other settings, or looked at first. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { Mend } from "../../api/client";
import { queries } from "../../api/queries";
import { usePreviewing } from "./previewing";
import { SettingFields, sound, type Settings } from "./SettingFields";
import { mending as say } from "../../texts/mending";

/** Where lines are made, begun with what the mend would make. */
const makingOf = (job: string | undefined, mend: Mend) =>
  `/jobs/${job}/lines?make=${encodeURIComponent(JSON.stringify(mend.settings.make))}`;

interface Props {
  mend: Mend;
  busy: boolean;
  /** Whether it is told what it changes, and can be set otherwise. */
  open: boolean;
  /** One of many, none of which is the thing to do. */
  quiet?: boolean;
  onMend: (mend: Mend) => void;
}

export function MendOffer({ mend, busy, open, quiet, onMend }: Props) {
  const [settings, setSettings] = useState<Settings>(mend.settings);
  const [setting, setSetting] = useState(false);
  const { id } = useParams();
  const previewing = usePreviewing();
  const recipes = useQuery({ ...queries.recipes(), enabled: setting });
  const known = recipes.data?.mends.find((one) => one.id === mend.kind);
  const changed = { ...mend, settings };
  const right = !setting || !known || sound(known, settings);
  return (
    <Box
      sx={{
        mt: 0.5,
        ...(quiet && { display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 1 }),
      }}
    >
      <Button
        variant={open && !quiet ? "contained" : "outlined"}
        disabled={busy || !right}
        onClick={() => onMend(changed)}
      >
        {[mend, ...(mend.then ?? [])].map((one) => one.label).join(say.then)}
      </Button>
      {open && (
        <>
          {!!mend.then?.length && <Typography variant="body2">{say.aloneItWouldBringA}</Typography>}
          {mend.says && (
            <Typography variant="body2" color="text.secondary" sx={{ mt: 0.3 }}>
              {mend.says}
            </Typography>
          )}
          <Stack direction="row" spacing={1}>
            {previewing && (
              <Button disabled={busy || !right} onClick={() => previewing.begin(changed)} sx={{ py: 0 }}>
                {say.lookFirst}
              </Button>
            )}
            {mend.kind === "make-lines" ? (
              <Button component={Link} to={makingOf(id, mend)} size="inline">
                {say.setItInLines}
              </Button>
            ) : (
              <Button aria-expanded={setting} onClick={() => setSetting(!setting)} sx={{ py: 0 }}>
                {setting ? say.hideTheSettings : say.settings}
              </Button>
            )}
          </Stack>
          {setting && known && (
            <>
              <SettingFields known={known} settings={settings} onChange={setSettings} />
              {!known.settings.length && (
                <Typography variant="body2" color="text.secondary">
                  {say.itHasNone}
                </Typography>
              )}
              {!right && (
                <Typography variant="body2" color="error">
                  {say.somethingIsMissingOrOut}
                </Typography>
              )}
            </>
          )}
        </>
      )}
    </Box>
  );
}
