/** Letters that were sent, each with what came back. */
import { Box, Link as Anchor, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Letter } from "../api/client";
import { day, moment } from "../ui/words";
import { letters as say } from "../texts/letters";

export function LetterList({ letters, ofJob }: { letters: Letter[]; ofJob?: boolean }) {
  return (
    <Stack component="ul" spacing={1} sx={{ listStyle: "none", p: 0, m: 0 }}>
      {letters.map((one) => (
        <Box key={one.id} component="li" data-letter={one.id}>
          <Typography variant="body2">
            <b>{one.kind === "proof" ? say.proofLetter : say.pointsLetter}</b>{" "}
            {!ofJob && <Link to={`/jobs/${one.job_id}`}>{one.job_name}</Link>} {moment(one.sent)}{" "}
            {one.to ? say.to(one.to) : say.toNobody} {say.by(one.who)}
            {one.checks.length > 0 && `, ${say.about(one.checks.join(", "))}`}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {answerOf(one)}
            {one.files.map((name) => (
              <span key={name}>
                {" · "}
                <Anchor href={`/api/letters/${one.id}/files/${encodeURIComponent(name)}`}>{name}</Anchor>
              </span>
            ))}
            {" · "}
            <Anchor href={`/api/letters/${one.id}/message.eml`}>{say.message}</Anchor>
          </Typography>
        </Box>
      ))}
    </Stack>
  );
}

/** What came back on a letter, in words. */
export function answerOf(one: Letter): string {
  const on = one.signed_on ? day(one.signed_on) : "";
  if (one.answer === "approved") return say.approvedBy(one.signed_by, on);
  if (one.answer === "refused") return say.refusedBy(one.signed_by, on, one.note);
  return one.answer === "file" ? say.answeredByFile(one.note) : say.noAnswer;
}
