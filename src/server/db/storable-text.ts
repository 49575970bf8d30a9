/** No letter at all (NUL), and halves of a pair of surrogates on their own: PostgreSQL has no room for them. */
const NOT_STORABLE = /\u0000|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g

/** Text with something else instead of what can't be stored; the rest stays as it is, as it may name something. */
export const storableText = (text: string, instead = ''): string => text.replace(NOT_STORABLE, instead)
