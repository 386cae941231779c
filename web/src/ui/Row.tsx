/** Things beside each other, in the middle of their height; and the room between what is left and what is right. */
import { Box, Stack, type StackProps } from "@mui/material";

export function Row({ sx, ...rest }: StackProps) {
  return (
    <Stack direction="row" {...rest} sx={[{ alignItems: "center" }, ...(Array.isArray(sx) ? sx : [sx])]} />
  );
}

export const Spacer = () => <Box sx={{ flex: 1 }} />;
