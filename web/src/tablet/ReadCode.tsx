/** Which sheet: its code read by the tablet's camera, or typed. */
import { BrowserQRCodeReader, type IScannerControls } from "@zxing/browser";
import { Alert, Button, Stack, TextField, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { tablet as say } from "../texts/tablet";

export function ReadCode() {
  const go = useNavigate();
  const [typed, setTyped] = useState("");
  const [reads, setReads] = useState(false);
  const open = (code: string) => void go(`/cutter/${encodeURIComponent(code.trim().toUpperCase())}`);
  return (
    <Stack spacing={3} sx={{ p: 3, maxWidth: 640, mx: "auto" }}>
      <Typography variant="h1" sx={{ fontSize: 32 }}>
        {say.whichSheet}
      </Typography>
      {reads ? (
        <Camera onRead={open} onStop={() => setReads(false)} />
      ) : (
        <Button variant="contained" onClick={() => setReads(true)}>
          {say.readTheCode}
        </Button>
      )}
      <Stack
        component="form"
        direction="row"
        spacing={1}
        onSubmit={(event) => {
          event.preventDefault();
          if (typed.trim()) open(typed);
        }}
      >
        <TextField
          fullWidth
          label={say.typeTheCode}
          value={typed}
          autoCapitalize="characters"
          autoComplete="off"
          onChange={(event) => setTyped(event.target.value)}
        />
        <Button type="submit" variant="outlined" disabled={!typed.trim()}>
          {say.open}
        </Button>
      </Stack>
    </Stack>
  );
}

function Camera({ onRead, onStop }: { onRead: (code: string) => void; onStop: () => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const heard = useRef(onRead);
  const [none, setNone] = useState(false);
  useEffect(() => {
    heard.current = onRead;
  });
  useEffect(() => {
    let over = false;
    let controls: IScannerControls | undefined;
    new BrowserQRCodeReader()
      .decodeFromConstraints(
        { video: { facingMode: "environment" } },
        video.current ?? undefined,
        (result) => {
          if (result && !over) heard.current(result.getText());
        },
      )
      .then((given) => {
        controls = given;
        if (over) given.stop();
      })
      .catch(() => setNone(true));
    return () => {
      over = true;
      controls?.stop();
    };
  }, []);
  return (
    <Stack spacing={1}>
      {none ? (
        <Alert severity="warning" sx={{ fontSize: 18 }}>
          {say.noCamera}
        </Alert>
      ) : (
        <>
          <Typography>{say.holdTheCode}</Typography>
          <video
            ref={video}
            muted
            playsInline
            style={{ width: "100%", background: "#222", aspectRatio: "4 / 3" }}
          />
        </>
      )}
      <Button variant="outlined" onClick={onStop}>
        {say.stopReading}
      </Button>
    </Stack>
  );
}
