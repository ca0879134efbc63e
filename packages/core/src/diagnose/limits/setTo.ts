/** A line of a patch that sets one of the settings. */
export const setTo = (use: string, path: string, value: number | boolean) => ({ op: 'replace' as const, path: `/${use}/${path}`, value }); // prettier-ignore
