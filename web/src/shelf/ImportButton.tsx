/** Reads a file of the Shelf back in: a check sheet, a recipe. The server says what is in it, or what is wrong. */
import { Button } from "@mui/material";
import { useRef } from "react";
import { cookie } from "../api/client";
import { shelf as say } from "../texts/shelf";

interface Props<T> {
  /** Where the file is sent. */
  to: string;
  label: string;
  onRead: (said: T) => void;
  onRefused: (why: string) => void;
}

export function ImportButton<T>({ to, label, onRead, onRefused }: Props<T>) {
  const file = useRef<HTMLInputElement>(null);
  const take = async (chosen: File) => {
    const body = new FormData();
    body.append("file", chosen);
    try {
      const answer = await fetch(to, {
        method: "POST",
        body,
        headers: { "X-CSRFToken": cookie("csrftoken") },
      });
      const said = (await answer.json()) as T & { message?: string };
      if (answer.ok) onRead(said);
      else onRefused(said.message ?? say.theFileCouldNotBe);
    } catch {
      onRefused(say.theFileCouldNotBeSent);
    }
  };
  return (
    <>
      <Button onClick={() => file.current?.click()}>{say.importIt}</Button>
      <input
        ref={file}
        type="file"
        accept="application/json,.json"
        hidden
        aria-label={label}
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          if (chosen) void take(chosen);
          e.target.value = "";
        }}
      />
    </>
  );
}
