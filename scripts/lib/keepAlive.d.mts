/** A part of Yundro that is to stay up. */
export interface Part {
  readonly name: string;
  ended(): Promise<unknown>;
  restart(): Promise<void>;
}
export function keepAlive(part: Part, isStopping: () => boolean, pauses?: readonly number[]): Promise<void>;
