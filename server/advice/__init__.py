"""Questions to the advisor over HTTP: at once where the catalogue is small, else as a job."""
