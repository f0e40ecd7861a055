"""Near misses between the names of inputs."""

from unittest import TestCase

from core.documents import near_miss


class NearMisses(TestCase):
    def test_case_space_hyphen_underscore_accent_plural(self) -> None:
        names = ["email", "first_name", "interest", "prenom"]
        for written, meant in {
            "Email": "email",
            "e-mail": "email",
            "First Name": "first_name",
            "interests": "interest",
            "prénom": "prenom",
        }.items():
            self.assertEqual(near_miss(written, names), meant)

    def test_the_same_name_is_no_miss_and_another_is_none(self) -> None:
        self.assertIsNone(near_miss("email", ["email", "Email"]))
        self.assertIsNone(near_miss("phone", ["email"]))
