// @vitest-environment jsdom
/** ZIP archives that are dropped: their files come in, and nothing else of them. */
import { strToU8, zipSync } from "fflate";
import { describe, expect, it } from "vitest";
import { isZip } from "./takingIn";
import { unzipped } from "./zipped";

/** An archive with these members, by what they hold. */
const archive = (members: Record<string, string>, name = "morning.ZIP") =>
  new File(
    [
      new Uint8Array(
        zipSync(Object.fromEntries(Object.entries(members).map(([key, held]) => [key, strToU8(held)]))),
      ),
    ],
    name,
  );
const held = async (files: File[]) =>
  Object.fromEntries(await Promise.all(files.map(async (file) => [file.name, await file.text()] as const)));

describe("an archive", () => {
  it("gives its files, those in folders too, without what is hidden", async () => {
    const zip = archive({
      "seal.pdf": "a seal",
      "customers/ferry/tern.pdf": "a tern",
      "__MACOSX/._seal.pdf": "of a system",
      "customers/.DS_Store": "of a system",
    });
    expect(isZip(zip)).toBe(true);
    const files = await unzipped([new File(["plain"], "plain.pdf"), zip]);
    expect(await held(files)).toEqual({ "plain.pdf": "plain", "seal.pdf": "a seal", "tern.pdf": "a tern" });
  });

  it("that cannot be opened, is empty or holds too much comes as it is", async () => {
    const torn = new File(["PK\u0003\u0004 and so on"], "torn.zip");
    const empty = archive({}, "empty.zip");
    const many = archive(
      Object.fromEntries(Array.from({ length: 501 }, (_, i) => [`${i}.pdf`, "x"])),
      "many.zip",
    );
    expect(await unzipped([torn, empty, many])).toEqual([torn, empty, many]);
  });
});
