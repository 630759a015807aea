/**
 * Asks a worker questions, each answered once; before that it may say how far it has come (`looked`). Stopping it answers all
 * that wait with nothing.
 */
export class Asker<Question extends { id: number }, Answer extends { id: number; looked?: number }> {
  private worker: Worker | undefined;
  private id = 0;
  private readonly waiting = new Map<number, (answer: Answer | undefined) => void>();
  private readonly going = new Map<number, (looked: number) => void>();

  constructor(private readonly make: () => Worker) {}

  ask(question: Omit<Question, 'id'>, onlook?: (looked: number) => void): Promise<Answer | undefined> {
    this.worker ??= this.start();
    const id = ++this.id;
    return new Promise((give) => {
      this.waiting.set(id, give);
      if (onlook) this.going.set(id, onlook);
      this.worker!.postMessage({ ...question, id });
    });
  }

  private start(): Worker {
    const worker = this.make();
    worker.onmessage = ({ data }: MessageEvent<Answer>) => {
      if (data.looked !== undefined) {
        this.going.get(data.id)?.(data.looked);
        return;
      }
      this.waiting.get(data.id)?.(data);
      this.waiting.delete(data.id);
      this.going.delete(data.id);
    };
    worker.onerror = () => this.stop();
    return worker;
  }

  stop(): void {
    this.worker?.terminate();
    this.worker = undefined;
    for (const give of this.waiting.values()) give(undefined);
    this.waiting.clear();
    this.going.clear();
  }
}
