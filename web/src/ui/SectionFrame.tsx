/** The strip at the foot of the stage in which something is drawn cut open, as wide as there is room. */
import { Box, Button, Typography } from "@mui/material";
import type { UseQueryResult } from "@tanstack/react-query";
import { useEffect, useRef, useState, type ReactNode } from "react";
import { Failure } from "../help/Failure";
import { ui as say } from "../texts/ui";

interface Props<Section> {
  section: UseQueryResult<Section>;
  height: number;
  /** What is said while it is not there yet. */
  waits: string;
  onClose: () => void;
  children: (section: Section, width: number) => ReactNode;
}

export function SectionFrame<Section>({ section, height, waits, onClose, children }: Props<Section>) {
  const frame = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(800);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (frame.current) watch.observe(frame.current);
    return () => watch.disconnect();
  }, []);
  return (
    <Box
      ref={frame}
      data-testid="section"
      sx={{
        height,
        flex: "none",
        bgcolor: "background.paper",
        borderTop: "1px solid #CFCFCF",
        position: "relative",
      }}
    >
      <Failure of={section.error} />
      {section.isPending && (
        <Typography sx={{ p: 2 }} color="text.secondary">
          {waits}
        </Typography>
      )}
      {section.data && children(section.data, width)}
      <Button onClick={onClose} sx={{ position: "absolute", top: 0, right: 4 }}>
        {say.fold}
      </Button>
    </Box>
  );
}
