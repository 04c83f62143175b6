/** The form in which this page writes edits. Generated. */
export const FORM = 9;
