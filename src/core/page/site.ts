/** Whether a text names a site that may show a page within its own: scheme and host, and no path. */
export const isSite = (site: string): boolean => /^https?:\/\/[a-z0-9.-]+(:\d{1,5})?$/i.test(site);
