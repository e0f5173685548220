/** The core in a worker of this page: the same code as the server's. Pictures never leave the device. */
export class OnDevice {
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
    this.worker.onerror = () => this.fail(new Error("This browser can't look at pictures. Try a newer one."));
  }

  ask<T>(message: object, hand: Transferable[] = []): Promise<T> {
    const number = ++this.number;
    return new Promise<T>((done, failed) => {
      this.waiting.set(number, { done, failed });
      this.worker.postMessage({ ...message, number }, hand);
    });
  }

  end() {
    this.worker.terminate();
    this.fail(new Error("Stopped."));
  }

  private fail(e: Error) {
    for (const w of this.waiting.values()) w.failed(e);
    this.waiting.clear();
  }
}
