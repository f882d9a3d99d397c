"""`python -m studio.demo`: make the contents of `ready/` again, in a database of its own."""

import os
import tempfile


def main() -> None:
    """Make the demo by its commands, and store the result."""
    with tempfile.TemporaryDirectory() as folder:
        os.environ.update(GOUGE_DATA=folder, DJANGO_SETTINGS_MODULE="config.settings")
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        from django.contrib.auth import get_user_model

        from .batch import take_batch_photos
        from .make import make_demo
        from .ready import write

        owner = get_user_model().objects.create_user("demo")
        make_demo(owner)
        take_batch_photos(owner)
        write()


if __name__ == "__main__":
    main()
