/** What of a layer is shown in the list beside the flowsOf strip. */
export interface Shown {
  title: string;
  personIds: string[] | null;
}
