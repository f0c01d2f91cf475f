/** Where an instrument is spoken to. */
export interface Address {
  readonly host: string;
  readonly port: number;
}

const LOOPBACK = /^(localhost|127(\.\d{1,3}){3}|::1)$/;

/**
 * Read an address the designer named, such as `127.0.0.1:5025`. Others than this machine's own are spoken to only where whoever
 * started the server named them.
 *
 * @param allowed hosts beside the loopback.
 * @returns a sentence where it is refused.
 */
export function addressOf(text: string, allowed: readonly string[]): Address | string {
  const [, bracketed, plain, digits] = /^(?:\[([0-9a-fA-F:]+)\]|([^\s:[\]]+)):(\d{1,5})$/.exec(text.trim()) ?? [];
  const host = bracketed ?? plain;
  const port = Number(digits);
  if (host === undefined || port < 1 || port > 65_535)
    return `“${text}” is no address of an instrument: a host and a port from 1 to 65535 are expected, such as 127.0.0.1:5025.`;
  if (!LOOPBACK.test(host) && !allowed.includes(host.toLowerCase()))
    return `The instrument at ${host} is not on this machine. Only the loopback is spoken to unless the server was started with the host named in INSTRUMENT_HOSTS.`;
  return { host, port };
}
