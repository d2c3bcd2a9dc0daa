"""A label read through the camera: our own QR, filmed askew, out of focus and with noise, under our content policy."""

import io
import shutil
import tempfile
from pathlib import Path

import cv2
import numpy as np
from PIL import Image
from selenium import webdriver
from selenium.webdriver.chrome.service import Service

from frimble.people.models import Person
from frimble.testing.browser.base import FLAGS, BrowserCase
from frimble.testing.shop import small_shop
from frimble.ui.labels import modules

_WIDTH, _HEIGHT, _FRAMES = 640, 480, 20
# Where the label's corners lie in the picture: turned, and leaning away.
_CORNERS = np.float32([[205, 120], [420, 150], [395, 350], [190, 330]])


def film(code: str, path: Path) -> None:
    """An uncompressed film of a label. Source: the YUV4MPEG2 format, 4:2:0, one plane after the other."""
    # Source: ISO/IEC 18004: dark modules on light, four modules of quiet zone; the label draws both.
    square = np.where(np.array(modules(code), dtype=bool), 40, 215).astype(np.uint8)
    side = square.shape[0]
    lies = cv2.getPerspectiveTransform(np.float32([[0, 0], [side, 0], [side, side], [0, side]]), _CORNERS)
    grown = cv2.warpPerspective(square, lies, (_WIDTH, _HEIGHT), flags=cv2.INTER_NEAREST, borderValue=150)
    rng = np.random.default_rng(3)
    with path.open("wb") as file:
        file.write(f"YUV4MPEG2 W{_WIDTH} H{_HEIGHT} F10:1 Ip A1:1 C420jpeg\n".encode())
        for _ in range(_FRAMES):
            blurred = cv2.GaussianBlur(grown, (0, 0), 1.2) + rng.normal(0, 6, grown.shape)
            colour = bytes([128]) * (_WIDTH * _HEIGHT // 2)
            file.write(b"FRAME\n" + np.clip(blurred, 0, 255).astype(np.uint8).tobytes() + colour)


class CameraTests(BrowserCase):
    def setUp(self):
        super().setUp()
        small_shop()
        self.folder = Path(tempfile.mkdtemp(prefix="frimble-camera-"))
        self.addCleanup(shutil.rmtree, self.folder, True)

    def take_camera(self, *flags):
        """A browser of its own whose camera shows a film."""
        options = webdriver.ChromeOptions()
        options.binary_location = shutil.which("chromium") or "/usr/bin/chromium"
        for flag in (
            *FLAGS,
            f"--user-data-dir={self.folder / 'profile'}",
            "--use-fake-device-for-media-stream",
            *flags,
        ):
            options.add_argument(flag)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        service = Service(shutil.which("chromedriver") or "/usr/bin/chromedriver")
        self.driver = webdriver.Chrome(options=options, service=service)
        self.addCleanup(self.driver.quit)
        self.sign_in("tamsin")

    def open_camera(self):
        self.wait(lambda: self.driver.find_element("css selector", "[data-camera]").is_displayed())
        self.driver.find_element("css selector", "[data-camera]").click()

    def test_a_label_leads_to_its_screen(self):
        film("Q-015", self.folder / "label.y4m")
        label = f"--use-file-for-fake-video-capture={self.folder / 'label.y4m'}"
        self.take_camera("--use-fake-ui-for-media-stream", label)
        self.open_camera()
        self.wait(lambda: self.driver.current_url.endswith("/screens/Q-015/"))
        self.assertEqual(self.console_errors(), [])

    def test_by_safelight_its_picture_has_no_blue(self):
        # Chromium's own fake picture is full of colours.
        Person.objects.filter(username="tamsin").update(light="safelight")
        self.take_camera("--use-fake-ui-for-media-stream")
        self.open_camera()
        video = self.driver.find_element("css selector", "#camera video")
        self.wait(lambda: self.driver.execute_script("return arguments[0].currentTime > 0.2", video))
        lens = self.driver.find_element("css selector", ".lens")
        picture = Image.open(io.BytesIO(lens.screenshot_as_png)).convert("RGB")
        # Source: W3C Compositing and Blending, multiply: what is multiplied by 0 is 0.
        self.assertEqual(picture.getchannel("B").getextrema()[1], 0)
        self.assertGreater(picture.getchannel("R").getextrema()[1], 100)

    def test_a_camera_that_is_not_allowed_is_said_and_the_code_can_be_typed(self):
        self.take_camera("--deny-permission-prompts")
        self.open_camera()
        dialog = self.driver.find_element("id", "camera")
        self.wait(lambda: "The camera is not allowed here" in dialog.text)
        dialog.find_element("xpath", ".//button[.='Close']").click()
        self.slate("Q-014")
        self.wait(lambda: self.driver.current_url.endswith("/screens/Q-014/"))
