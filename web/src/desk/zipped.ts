/** The files in ZIP archives that are dropped: each comes in by itself, as out of a folder. */
import { unzipSync } from "fflate";
import { isZip } from "./takingIn";

const MOST_FILES = 500;
const MOST_BYTES = 2e9;

/**
 * What comes in, with archives opened. Hidden files and what other systems add are left out; an archive that cannot be
 * opened, or holds more than may come at once, comes as it is, and is refused in words.
 */
export async function unzipped(files: readonly File[]): Promise<File[]> {
  const found: File[] = [];
  for (const file of files) found.push(...(isZip(file) ? await filesIn(file) : [file]));
  return found;
}

async function filesIn(archive: File): Promise<File[]> {
  let count = 0;
  let bytes = 0;
  try {
    const members = unzipSync(new Uint8Array(await archive.arrayBuffer()), {
      filter: ({ name, originalSize }) => {
        if (name.endsWith("/") || name.split("/").some((part) => part.startsWith(".") || part === "__MACOSX"))
          return false;
        count += 1;
        bytes += originalSize;
        if (count > MOST_FILES || bytes > MOST_BYTES) throw new RangeError(archive.name);
        return true;
      },
    });
    const opened = Object.entries(members).map(
      ([name, data]) => new File([new Uint8Array(data)], name.split("/").at(-1) ?? name),
    );
    return opened.length ? opened : [archive];
  } catch {
    return [archive];
  }
}
