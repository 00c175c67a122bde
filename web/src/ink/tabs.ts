/** The value of a tab: its name, made fit for an id on the page. */
export function tabValue(name: string): string {
  return name.replaceAll(' ', '-')
}
