/** For a field that appears where its reader pressed or typed: they go on in it. A ref of it. */
export const takesFocus = (field: HTMLElement | null): void => field?.focus();
