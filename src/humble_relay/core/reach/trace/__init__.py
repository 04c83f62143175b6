"""The connection trace of a call, hop by hop."""
