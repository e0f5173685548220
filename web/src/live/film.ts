import type { LiveAnswer, LiveReading, LiveShaft } from "../api/client";
import { OnDevice } from "../api/onDevice";
import type { Other } from "./OtherWheel";

/** A disc to be followed: where its box is, in pixels of the picture, and how many chalk marks it bears. */
export type Watch = { shaft: LiveShaft; box: { x: number; y: number; w: number; h: number }; marks: number };

export type Disc = {
  shaft: LiveShaft;
  state: "followed" | "no_mark" | "lost" | "too_fast";
  turns: number;
  total: number;
  angle: number;
  hidden: number;
  sentence: string;
};

export type FilmTold = { discs: Disc[]; live?: LiveAnswer; reading?: LiveReading };

/** Follows discs in pictures, on this device alone. */
export class Film {
  private core = new OnDevice();

  begin(width: number, height: number, watch: Watch[]): Promise<unknown> {
    return this.core.ask({ what: "begin", film: { width, height, watch } });
  }

  see(picture: ImageData, at: number): Promise<unknown> {
    const rgba = picture.data.buffer;
    return this.core.ask({ what: "see", rgba, width: picture.width, height: picture.height, at }, [rgba]);
  }

  tell(other?: Other): Promise<FilmTold> {
    return this.core.ask({ what: "tell", other });
  }

  end() {
    this.core.end();
  }
}

/** The JPEG pictures of a film that is a chain of them. */
export function jpegs(data: Uint8Array): Uint8Array[] {
  const out: Uint8Array[] = [];
  let from = 0;
  for (let i = 1; i < data.length; i++) {
    if (data[i - 1] !== 0xff || data[i] !== 0xd9) continue;
    out.push(data.subarray(from, i + 1));
    from = i + 1;
  }
  return out;
}
