interface Waiting {
  readonly resolve: (answer: unknown) => void;
  readonly reject: (error: Error) => void;
}

export type WorkerReply = { readonly id: number } & ({ readonly answer: unknown } | { readonly problem: string });

/** A worker that answers questions one by one. It is made for the first of them; one that breaks, for want of memory perhaps, is replaced for the next. */
export class AskedWorker<Request> {
  private worker: Worker | undefined;
  private asked = 0;
  private readonly waiting = new Map<number, Waiting>();

  /**
   * @param stopped what to say to those who wait for a worker that has broken
   * @param began called whenever a worker was made, before it is asked anything
   */
  constructor(
    private readonly make: () => Worker,
    private readonly stopped: string,
    private readonly began: () => void = () => undefined,
  ) {}

  /** @throws Error with what the worker says is wrong, or that it broke */
  ask(request: Request, transfer: Transferable[] = []): Promise<unknown> {
    const isNew = !this.worker;
    const worker = (this.worker ??= this.hire());
    if (isNew) this.began();
    const id = ++this.asked;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      worker.postMessage({ ...request, id }, { transfer });
    });
  }

  private hire(): Worker {
    const worker = this.make();
    worker.onmessage = ({ data }: MessageEvent<WorkerReply>) => {
      const asker = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if ('problem' in data) asker?.reject(new Error(data.problem));
      else asker?.resolve(data.answer);
    };
    worker.onerror = ({ message }) => {
      worker.terminate();
      this.worker = undefined;
      const left = [...this.waiting.values()];
      this.waiting.clear();
      for (const { reject } of left) reject(new Error(`${this.stopped} (${message || 'its worker has stopped'}).`));
    };
    return worker;
  }
}
