// Before the first paint: the theme somebody has chosen, else what the system says.
(function () {
  var chosen = null;
  try {
    chosen = localStorage.getItem("larder-theme");
  } catch (error) {
    chosen = null; // storage may be switched off
  }
  if (chosen === "daylight" || chosen === "machineroom") {
    document.documentElement.dataset.theme = chosen;
  }
})();
