export function isFree(port: number): Promise<boolean>;
export function freePort(): Promise<number>;
