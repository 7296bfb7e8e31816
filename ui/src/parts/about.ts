/** What a document is about where nobody says it: its first line, and how many more there are. */
export const proposedAbout = (descriptions: string[]) =>
  (descriptions[0] ?? '') + (descriptions.length > 1 ? ` and ${descriptions.length - 1} more` : '')
