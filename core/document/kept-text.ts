/** One text that is kept; it is empty before anything was. */
export interface TextPort {
  read(): Promise<string>;
  /** Keeps a text in its place, whole or not at all. */
  write(text: string): Promise<void>;
}

/** One text in memory. */
export class MemoryText implements TextPort {
  constructor(public text = '') {}

  async read(): Promise<string> {
    return this.text;
  }
  async write(text: string): Promise<void> {
    this.text = text;
  }
}
