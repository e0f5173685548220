import type { LiveAnswer, LiveReading, LiveShaft } from "../api/client";
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

/** Follows discs in pictures, in a worker of this page: by the same code as the server's, on this device alone. */
export class Film {
  private worker = new Worker("/camera.js");
  private waiting = new Map<number, { done: (v: never) => void; failed: (e: Error) => void }>();
  private number = 0;

  constructor() {
    this.worker.onmessage = ({ data }) => {
      const w = this.waiting.get(data.number);
      this.waiting.delete(data.number);
      const answer = JSON.parse(data.answer);
      if (answer?.wrong) w?.failed(new Error(answer.wrong));
      else w?.done(answer as never);
    };
    this.worker.onerror = () => this.fail(new Error("This browser can't run the camera's part."));
  }

  begin(width: number, height: number, watch: Watch[]): Promise<unknown> {
    return this.ask({ what: "begin", film: { width, height, watch } });
  }

  see(picture: ImageData, at: number): Promise<unknown> {
    const rgba = picture.data.buffer;
    return this.ask({ what: "see", rgba, width: picture.width, height: picture.height, at }, [rgba]);
  }

  tell(other?: Other): Promise<FilmTold> {
    return this.ask({ what: "tell", other });
  }

  end() {
    this.worker.terminate();
    this.fail(new Error("The camera was put away."));
  }

  private ask<T>(message: object, hand: Transferable[] = []): Promise<T> {
    const number = ++this.number;
    return new Promise<T>((done, failed) => {
      this.waiting.set(number, { done, failed });
      this.worker.postMessage({ ...message, number }, hand);
    });
  }

  private fail(e: Error) {
    for (const w of this.waiting.values()) w.failed(e);
    this.waiting.clear();
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
