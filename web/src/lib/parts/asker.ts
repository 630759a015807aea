/** Asks a worker questions, each answered once. Stopping it answers all that wait with nothing. */
export class Asker<Question extends { id: number }, Answer extends { id: number }> {
  private worker: Worker | undefined;
  private id = 0;
  private readonly waiting = new Map<number, (answer: Answer | undefined) => void>();

  constructor(private readonly make: () => Worker) {}

  ask(question: Omit<Question, 'id'>): Promise<Answer | undefined> {
    this.worker ??= this.start();
    const id = ++this.id;
    return new Promise((give) => {
      this.waiting.set(id, give);
      this.worker!.postMessage({ ...question, id });
    });
  }

  private start(): Worker {
    const worker = this.make();
    worker.onmessage = ({ data }: MessageEvent<Answer>) => {
      this.waiting.get(data.id)?.(data);
      this.waiting.delete(data.id);
    };
    worker.onerror = () => this.stop();
    return worker;
  }

  stop(): void {
    this.worker?.terminate();
    this.worker = undefined;
    for (const give of this.waiting.values()) give(undefined);
    this.waiting.clear();
  }
}
