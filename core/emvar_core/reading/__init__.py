"""What is read rather than worked with: the compendium, and an assessment as plain text."""
