from django.apps import AppConfig


class JournalConfig(AppConfig):
    name = "journal"
