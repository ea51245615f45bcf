"""What every app's API shares: authentication, problem documents, rendering, pages."""
