"""A text as a QR code (ISO/IEC 18004), as rows of dark and light modules."""

import qrcode
from qrcode.exceptions import DataOverflowError


def qr_rows(text: str) -> tuple[str, ...]:
    """The rows of the code, its quiet zone of four modules included: `1` dark, `0` light. None of a text that is too long.

    >>> rows = qr_rows("srt://203.0.113.20:9000")
    >>> len(rows) == len(rows[0]) == 33
    True
    """
    code = qrcode.QRCode(border=4, error_correction=qrcode.constants.ERROR_CORRECT_M)
    code.add_data(text)
    try:
        code.make(fit=True)
    except (DataOverflowError, ValueError):
        return ()
    return tuple("".join("1" if dark else "0" for dark in row) for row in code.get_matrix())
