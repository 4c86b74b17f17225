/** Configuration comes from the environment only. */
import { isIP } from 'node:net';
import { join, resolve } from 'node:path';
import { readDay } from '@terrace/core';

export interface Config {
  readonly port: number;
  /** Loopback only unless told otherwise. */
  readonly host: string;
  readonly dataFolder: string;
  /** A fixed business day, or `null` for the real one. */
  readonly today: string | null;
  readonly logLevel: string;
  /** Addresses of reverse proxies that say truly for whom they ask and whether that came by TLS; none where nobody stands between. */
  readonly proxies?: readonly string[];
  /** What backups are encrypted with; nothing where they are not. */
  readonly passphrase?: string;
}

const SUBNET = /^(.+)\/(\d{1,3})$/;

/** Addresses and subnets of proxies, or `loopback` for the machine itself. */
function readProxies(text: string): string[] {
  const proxies = text
    .split(',')
    .map((each) => each.trim())
    .filter((each) => each !== '');
  const wrong = proxies.find((each) => {
    const [, address = each, bits = '0'] = SUBNET.exec(each) ?? [];
    const version = isIP(address);
    return each !== 'loopback' && (version === 0 || Number(bits) > (version === 4 ? 32 : 128));
  });
  if (wrong !== undefined) throw new Error(`TERRACE_PROXY must name addresses or subnets of proxies, or loopback, not "${wrong}"`);
  return proxies;
}

/** Reads the configuration; throws a sentence where a setting makes no sense. */
export function readConfig(environment: NodeJS.ProcessEnv, root: string): Config {
  const port = Number(environment['TERRACE_PORT'] ?? 4300);
  if (!Number.isInteger(port) || port < 0 || port > 65_535)
    throw new Error(`TERRACE_PORT must be a port number, not "${environment['TERRACE_PORT'] ?? ''}"`);
  const today = environment['TERRACE_TODAY'] ?? null;
  if (today !== null && readDay(today) === null) throw new Error(`TERRACE_TODAY must be a date as YYYY-MM-DD, not "${today}"`);
  return {
    port,
    host: environment['TERRACE_HOST'] ?? '127.0.0.1',
    dataFolder: resolve(environment['TERRACE_DATA'] ?? join(root, 'data')),
    today,
    logLevel: environment['TERRACE_LOG'] ?? 'info',
    proxies: readProxies(environment['TERRACE_PROXY'] ?? ''),
    ...(environment['TERRACE_PASSPHRASE'] === undefined ? {} : { passphrase: environment['TERRACE_PASSPHRASE'] }),
  };
}
