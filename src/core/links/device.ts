/**
 * Device classes by which scans are counted; nothing finer is stored about anyone. Robots are
 * counted separately from people.
 */
export const devices = ['phone', 'tablet', 'computer', 'other', 'robot'] as const;
export type Device = (typeof devices)[number];

export const deviceWords: Record<Device, string> = {
  phone: 'phones',
  tablet: 'tablets',
  computer: 'computers',
  other: 'others',
  robot: 'bots and previews',
};

/**
 * The names of programs that load pages by themselves, if they give one: message previews, search
 * engines, monitors.
 */
const robots =
  /hand-stamp|bot\b|bot[/_-]|crawl|spider|slurp|preview|fetch|monitor|scan(ner)?\b|archiv|headless|curl|wget|python|java\/|go-http|axios|node|libwww|okhttp|http-?client|validator|lighthouse|feed|^$/i;

/**
 * The class of a device, by its browser's headers (RFC 9110, User-Agent, and the client hint
 * Sec-CH-UA-Mobile), and whether a person asked: a prefetch says so (Sec-Purpose). A best effort:
 * headers can be faked.
 */
export function deviceOf(headers: { get(name: string): string | null }): Device {
  const agent = headers.get('user-agent') ?? '';
  const ahead = headers.get('sec-purpose') ?? headers.get('purpose') ?? '';
  if (/prefetch|preview/i.test(ahead) || robots.test(agent)) return 'robot';
  if (/iPad|Tablet|PlayBook|Silk|(Android(?!.*Mobile))/i.test(agent)) return 'tablet';
  if (
    /Mobi|iPhone|iPod|Android|Windows Phone/i.test(agent) ||
    headers.get('sec-ch-ua-mobile') === '?1'
  )
    return 'phone';
  if (/Windows NT|Macintosh|X11|Linux|CrOS/i.test(agent)) return 'computer';
  return 'other';
}
