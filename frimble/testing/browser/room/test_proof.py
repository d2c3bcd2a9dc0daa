"""A proof in the browser: sliders for time, mesh and coat answer, and the whole film is asked for as they stand."""

from django.core.files.uploadedfile import SimpleUploadedFile
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from frimble.coatings.models import Emulsion
from frimble.exposures.models import Lamp
from frimble.films.checks import services as check_services
from frimble.films.library.services import add_film
from frimble.films.models import DensityReading, FilmProcess
from frimble.screens.models import MeshType
from frimble.stencils.models import StencilProof
from frimble.stencils.tests.test_proofs import artwork
from frimble.testing.browser.base import BrowserCase
from frimble.testing.shop import small_shop


class SliderTests(BrowserCase):
    def setUp(self):
        super().setUp()
        tamsin, process = small_shop()["tamsin"], FilmProcess.objects.get()
        film = add_film(tamsin, name="Bars", job_number="", separation="", process=process, kept_at="")
        sent = SimpleUploadedFile("bars.png", artwork())
        self.check = check_services.submit(film, tamsin, scan=sent, dpi=600, encoding="srgb", wedge="", mesh=None)
        check_services.run_check.call(self.check.pk)
        DensityReading.objects.create(
            process=process, band="uv", route="meter", dmax=3.2, dmin=0.05, at=self.check.at, by=tamsin
        )
        self.fine = MeshType.objects.create(count_per_cm=140, thread_um=31, colour="yellow")
        self.sign_in("tamsin")
        chosen = {
            "scan": self.check.pk, "mesh": MeshType.objects.get(count_per_cm=77, thermal=False).pk, "formula": "P1+S1",
            "emulsion": Emulsion.objects.first().pk, "lamp": Lamp.objects.exclude(kind=Lamp.SUN).first().pk,
            "film_process": process.pk, "time_s": "30",
        }  # fmt: skip
        self.go("/stencil/proofs/?" + "&".join(f"{name}={value}" for name, value in chosen.items()))

    def shown(self, label):
        return self.driver.find_element(By.CSS_SELECTOR, f"label[for=proof-{label}] b").text

    def value(self, selector):
        return self.driver.find_element(By.CSS_SELECTOR, selector).get_attribute("value")

    def test_another_mesh_brings_its_own_coat_and_the_whole_film_is_asked_for_on_it(self):
        self.wait(lambda: self.shown("mesh") == "77-48 yellow")
        picture = lambda: self.driver.find_element(By.CSS_SELECTOR, ".proof-loupe").get_attribute("src")  # noqa: E731
        self.wait(lambda: "part.png" in (picture() or ""))
        before, over = picture(), int(self.shown("over").split()[0])
        self.driver.find_element(By.ID, "proof-mesh").send_keys(Keys.ARROW_RIGHT)
        self.wait(lambda: self.shown("mesh") == "140-31 yellow")
        # Source: the trade: the same formula leaves less emulsion on a finer, thinner mesh.
        self.assertLess(int(self.shown("over").split()[0]), over)
        self.wait(lambda: picture() != before and f"mesh={self.fine.pk}" in picture())
        self.driver.find_element(By.ID, "proof-time").send_keys(Keys.END)
        self.wait(lambda: self.value("[data-whole] [name=time_s]") == self.value("#proof-time"))
        self.press("Work out the whole film")
        self.sees("Working out the stencil")
        proof = StencilProof.objects.get()
        self.assertEqual(proof.mesh, self.fine)
        self.assertGreater(proof.time_s, 30)
        self.assertEqual(self.console_errors(), [])

    def test_longer_light_opens_less(self):
        share = lambda: self.driver.find_element(By.CSS_SELECTOR, "[role=status] b").text  # noqa: E731
        self.wait(share)
        at_first = float(share().split("%")[0])
        self.driver.find_element(By.ID, "proof-time").send_keys(Keys.END)
        self.wait(lambda: share() and float(share().split("%")[0]) < at_first)
        self.assertEqual(self.console_errors(), [])
