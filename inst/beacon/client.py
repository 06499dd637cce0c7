# Tells Honest Margin of each frame; does nothing outside a pass.
import os, socket, time
path = os.environ.get("HONESTMARGIN_BEACON")
beacon = socket.socket(socket.AF_UNIX) if path else None
if beacon: beacon.connect(path)
def tell(words):
    if beacon: beacon.sendall(f"@{time.monotonic():.6f} {words}\n".encode())
tell("beacon 1")
for segment in ("harbour", "tunnel"):
    tell(f"segment {segment}")
    for frame in range(50):
        time.sleep(0.004 if segment == "harbour" else 0.008)
        tell("frame")
