/** The right-hand side of a station. */
import { Box, Stack, Typography } from "@mui/material";
import { createContext, use, useState, type ReactNode } from "react";
import { createPortal } from "react-dom";

/** The place in the docket for what the stage tells, and how the docket gives it. */
const Slot = createContext<[HTMLElement | null, (place: HTMLElement | null) => void]>([null, () => {}]);

export function DocketSlot({ children }: { children: ReactNode }) {
  const slot = useState<HTMLElement | null>(null);
  return <Slot value={slot}>{children}</Slot>;
}

/** Stands in the docket, on top, whatever the station has in it. */
export function InDocket({ children }: { children: ReactNode }) {
  const [place] = use(Slot);
  return place && createPortal(children, place);
}

interface Props {
  title: string;
  /** What stands beside the title: what goes on, and how to take it back. */
  beside?: ReactNode;
  children: ReactNode;
}

export function Docket({ title, beside, children }: Props) {
  const [, give] = use(Slot);
  return (
    <Stack
      component="aside"
      aria-label={title}
      spacing={1.5}
      sx={{
        width: 380,
        flex: "none",
        overflowY: "auto",
        bgcolor: "background.paper",
        p: 2,
      }}
    >
      <Box>
        <Box ref={give} sx={{ "&:not(:empty)": { mb: 1.5 } }} />
        <Stack direction="row" sx={{ alignItems: "center", gap: 1 }}>
          <Typography variant="h2" sx={{ flex: 1 }}>
            {title}
          </Typography>
          {beside}
        </Stack>
      </Box>
      {children}
    </Stack>
  );
}

/** A figure with its words. */
export function Figure({ words, children }: { words: string; children: ReactNode }) {
  return (
    <Stack direction="row" sx={{ justifyContent: "space-between", gap: 2 }}>
      <Typography variant="body2" color="text.secondary">
        {words}
      </Typography>
      <Typography variant="body2" sx={{ fontWeight: 600, textAlign: "right" }}>
        {children}
      </Typography>
    </Stack>
  );
}
