"""Documents packed small: one in full now and then, the ones after it by what differs from it.

Zstandard with the earlier document as a raw-content dictionary (RFC 8878 §5) finds what two documents share, so that
a revision of a large plan takes about as much room as its edit.
"""

from zstandard import (
    DICT_TYPE_RAWCONTENT,
    ZstdCompressionDict,
    ZstdCompressionParameters,
    ZstdCompressor,
    ZstdDecompressor,
    ZstdError,
    get_frame_parameters,
)

_WINDOW_LOG = 24
"""2²⁴ bytes: more than the largest document, so that all of it can be referred to."""
LARGEST = 2**_WINDOW_LOG
_QUICK_TO = 1_100_000
"""Characters up to which the quick level still finds all of an earlier document again; of longer ones its tables forget the begin."""


def pack(text: str, base: str | None = None) -> bytes:
    """The text packed, against a base where one is given.

    >>> unpack(pack("a plan, changed", "a plan"), "a plan")
    'a plan, changed'
    """
    level = 3 if len(text) <= _QUICK_TO else 6
    parameters = ZstdCompressionParameters.from_level(level, window_log=_WINDOW_LOG)
    return ZstdCompressor(compression_params=parameters, dict_data=_dictionary(base)).compress(text.encode())


def unpack(data: bytes, base: str | None = None) -> str:
    """The text again. Raises ZstdError where the bytes are damaged."""
    return ZstdDecompressor(dict_data=_dictionary(base)).decompress(data, max_output_size=LARGEST).decode()


def unpacked_size(begin: bytes) -> int:
    """How many bytes the text has whose packed bytes begin so (18 are enough: RFC 8878 §3.1.1.1); 0 where they do not say.

    >>> unpacked_size(pack("a plan")[:18])
    6
    """
    try:
        size: int = get_frame_parameters(begin).content_size
    except ZstdError:
        return 0
    return size if size <= LARGEST else 0


def _dictionary(base: str | None) -> ZstdCompressionDict | None:
    return ZstdCompressionDict(base.encode(), dict_type=DICT_TYPE_RAWCONTENT) if base else None
