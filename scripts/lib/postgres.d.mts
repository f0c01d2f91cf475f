/** A running PostgreSQL cluster of our own. */
export interface Cluster {
  readonly url: string;
  readonly port: number;
  ended(): Promise<void>;
  stop(patience?: number): Promise<void>;
  /** Ends it at once, as a crash would. */
  kill(): Promise<void>;
  restart(): Promise<void>;
}
export function startPostgres(folder: string, options?: { readonly durable?: boolean }): Promise<Cluster>;
