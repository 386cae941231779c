/** One of several things that can be looked at: what it is, and what is to be known of it. */
import { Box, Typography, type BoxProps } from "@mui/material";
import type { ReactNode } from "react";

interface Props extends Omit<BoxProps<"button">, "name" | "onClick"> {
  name: ReactNode;
  chosen: boolean;
  onChoose: () => void;
}

export function ChoiceRow({ name, chosen, onChoose, children, ...rest }: Props) {
  return (
    <Box
      component="button"
      type="button"
      aria-pressed={chosen}
      onClick={onChoose}
      {...rest}
      sx={{
        width: "100%",
        textAlign: "left",
        border: 0,
        p: 1,
        font: "inherit",
        cursor: "pointer",
        bgcolor: chosen ? "#DDE8E8" : "#F4F4F4",
      }}
    >
      <b style={{ overflowWrap: "anywhere" }}>{name}</b>
      {children && (
        <Typography component="div" variant="body2" color="text.secondary">
          {children}
        </Typography>
      )}
    </Box>
  );
}
