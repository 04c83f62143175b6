/** The form in which this page writes edits. Generated. */
export const FORM = 15;
/** Fields that may hold a key or a password. Generated. */
export const SECRET_FIELDS = ["address", "app", "host", "key", "main_path", "notes", "stream_id", "sub_path", "view_address"] as const;
/** Fields whose whole text is one. Generated. */
export const SECRETS = ["key", "stream_id"] as const;
/** The highest port of TCP and UDP. Generated. */
export const HIGHEST_PORT = 65535;
