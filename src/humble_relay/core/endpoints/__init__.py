"""The two ends of a stream: who calls whom, URLs, names, settings, and what each side can do."""

from humble_relay.core.endpoints import (
    browser_links,
    ndi_groups,
    other_ends,
    publication,
    rtsp_requests,
    srt_settings,
    stream_limits,
    stream_names,
    stream_urls,
    substreams,
)

CHECKS = (
    *stream_urls.CHECKS,
    *browser_links.CHECKS,
    *srt_settings.CHECKS,
    *other_ends.CHECKS,
    *rtsp_requests.CHECKS,
    *stream_names.CHECKS,
    *substreams.CHECKS,
    *ndi_groups.CHECKS,
    *stream_limits.CHECKS,
    *publication.CHECKS,
)
