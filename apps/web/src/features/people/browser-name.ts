const BROWSERS: readonly [RegExp, string][] = [
  [/Edg\//, 'Edge'],
  [/OPR\/|Opera/, 'Opera'],
  [/Firefox\//, 'Firefox'],
  [/Chrome\/|CriOS\//, 'Chrome'],
  [/Safari\//, 'Safari'],
  [/curl\//, 'curl'],
];
const SYSTEMS: readonly [RegExp, string][] = [
  [/iPhone|iPad/, 'iOS'],
  [/Android/, 'Android'],
  [/Windows/, 'Windows'],
  [/Mac OS X|Macintosh/, 'macOS'],
  [/Linux|X11/, 'Linux'],
];

/** A browser and its system, of what it calls itself (User-Agent, RFC 9110); what it says where that is none that is known. */
export function browserName(userAgent: string): string {
  const browser = BROWSERS.find(([sign]) => sign.test(userAgent))?.[1];
  const system = SYSTEMS.find(([sign]) => sign.test(userAgent))?.[1];
  if (!browser) return userAgent.slice(0, 60) || 'a browser that does not say its name';
  return system ? `${browser} on ${system}` : browser;
}
