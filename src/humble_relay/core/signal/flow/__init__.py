"""What arrives where: the picture and the sound followed through every box, their delay and their shape."""

from humble_relay.core.signal.flow import canvases, sound

CHECKS = (*sound.CHECKS, *canvases.CHECKS)
