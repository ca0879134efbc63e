/** After a choice from a list the keys belong to the picture again, not to the list. */
export function giveKeysBack(): void {
  requestAnimationFrame(() => (document.activeElement as HTMLElement | null)?.blur());
}
