/** Parts of a path, with slashes of either kind. */
export const fileNameOf = (path: string): string => path.replace(/\\/g, '/').split('/').pop() ?? path

/** Its folders, from the outermost. */
export const folderNamesOf = (path: string): string[] =>
  path
    .replace(/\\/g, '/')
    .split('/')
    .slice(0, -1)
    .filter((part) => part !== '' && part !== '.')

/** Letters that any disk takes. */
export const safePart = (text: string): string =>
  text.normalize('NFC').replace(/[\\/:*?"<>|\u0000-\u001f]/g, '_')
