"""What packet loss does to a stream: TCP's throughput, SRT's retransmission, and protocols without either."""

from humble_relay.core.transport import srt_latency, tcp_loss, unrepaired_loss

CHECKS = (
    *tcp_loss.CHECKS,
    *srt_latency.CHECKS,
    *unrepaired_loss.CHECKS,
)
