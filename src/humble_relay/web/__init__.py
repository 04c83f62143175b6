"""The HTTP interface: one router a noun, problem details for errors, and the built front end."""
