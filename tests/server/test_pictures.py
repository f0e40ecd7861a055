"""Pictures of forms: written anew, so that nothing else of the file is kept or shown."""

import io
import struct
import zlib

from django.test import TestCase
from PIL import Image

from server.forms.pictures import keep_picture
from server.workspaces.errors import Refused
from server.workspaces.images import LARGEST
from tests.world import make_world


def encoded(image: Image.Image, form: str, **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, form, **more)
    return out.getvalue()


class Pictures(TestCase):
    def setUp(self) -> None:
        self.workspace = make_world().workspace

    def kept(self, content: bytes) -> Image.Image:
        return Image.open(io.BytesIO(bytes(keep_picture(self.workspace, content).content)))

    def refused(self, content: bytes) -> str:
        with self.assertRaises(Refused) as caught:
            keep_picture(self.workspace, content)
        [problem] = caught.exception.problems
        self.assertTrue(problem.fix)
        return problem.code

    def test_where_it_was_taken_and_by_whom_goes(self) -> None:
        # Exif 2.3: 0x010F is the maker of the camera, 0x013B the artist.
        exif = Image.Exif()
        exif[0x010F], exif[0x013B] = "A maker", "Noor"
        content = encoded(Image.new("RGB", (40, 30), "#224466"), "JPEG", exif=exif)
        self.assertIn(b"Noor", content)
        kept = self.kept(content)
        self.assertEqual(dict(kept.getexif()), {})
        self.assertEqual((kept.format, kept.size), ("JPEG", (40, 30)))

    def test_what_is_transparent_stays_so(self) -> None:
        kept = self.kept(encoded(Image.new("RGBA", (8, 8), (0, 0, 0, 0)), "PNG"))
        self.assertEqual(kept.format, "PNG")
        self.assertEqual(kept.convert("RGBA").getpixel((0, 0)), (0, 0, 0, 0))

    def test_every_form_that_is_taken(self) -> None:
        for form in ("PNG", "JPEG", "WEBP"):
            self.assertEqual(self.kept(encoded(Image.new("RGB", (9, 7)), form)).size, (9, 7), form)

    def test_a_wide_one_is_made_narrower_in_proportion(self) -> None:
        self.assertEqual(self.kept(encoded(Image.new("L", (3200, 800)), "PNG")).size, (1600, 400))

    def test_other_forms_and_halves(self) -> None:
        whole = encoded(Image.new("RGB", (200, 200), "red"), "PNG")
        for content in (
            encoded(Image.new("P", (4, 4)), "GIF"),
            encoded(Image.new("RGB", (4, 4)), "BMP"),
            encoded(Image.new("RGB", (4, 4)), "TIFF"),
            b"<svg onload='alert(1)'/>",
            b"%PDF-1.7",
            whole[: len(whole) // 2],
            b"\x89PNG\r\n\x1a\n",
        ):
            self.assertEqual(self.refused(content), "not_a_picture", content[:8])

    def test_an_empty_file_and_one_that_is_too_large(self) -> None:
        self.assertEqual(self.refused(b""), "picture_size")
        self.assertEqual(self.refused(b"x" * (LARGEST + 1)), "picture_size")

    def test_a_few_bytes_that_claim_to_be_enormous(self) -> None:
        # PNG (ISO/IEC 15948): signature, IHDR with 30,000 by 30,000 pixels, no data.
        def chunk(kind: bytes, data: bytes) -> bytes:
            body = kind + data
            return struct.pack(">I", len(data)) + body + struct.pack(">I", zlib.crc32(body))

        header = struct.pack(">IIBBBBB", 30_000, 30_000, 8, 2, 0, 0, 0)
        bomb = b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(b""))
        self.assertIn(self.refused(bomb + chunk(b"IEND", b"")), ("picture_size", "not_a_picture"))

    def test_an_id_that_is_guessed_shows_nothing(self) -> None:
        picture = keep_picture(self.workspace, encoded(Image.new("RGB", (4, 4)), "PNG"))
        self.assertEqual(self.client.get(f"/pictures/{picture.pk}").status_code, 200)
        guessed = str(picture.pk)[:-1] + ("0" if str(picture.pk)[-1] != "0" else "1")
        self.assertEqual(self.client.get(f"/pictures/{guessed}").status_code, 404)
