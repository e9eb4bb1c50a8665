/** What of a layer is shown in the list beside the weave strip. */
export interface Shown {
  title: string;
  personIds: string[] | null;
}
