/** The file name in a Content-Disposition header (RFC 6266): the extended form, which any letters fit in, before the plain one. */
export function nameIn(disposition: string): string | undefined {
  const extended = /filename\*=utf-8''([^;]+)/i.exec(disposition)?.[1]
  return extended ? decodeURIComponent(extended) : /filename="((?:[^"\\]|\\.)+)"/.exec(disposition)?.[1]?.replace(/\\(.)/g, '$1')
}
