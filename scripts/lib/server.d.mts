/** A running Yundro server. */
export interface RunningServer {
  readonly address: string;
  readonly ended: Promise<number>;
  stop(): Promise<void>;
}
export function startServer(
  root: string,
  options: { readonly databaseUrl: string; readonly port: number; readonly seed?: boolean; readonly logLevel?: string },
): Promise<RunningServer>;
