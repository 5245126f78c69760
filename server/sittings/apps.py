from django.apps import AppConfig


class SittingsConfig(AppConfig):
    name = "sittings"
