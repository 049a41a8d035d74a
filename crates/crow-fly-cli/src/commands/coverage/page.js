const form = document.querySelector(".filters");
if (form) {
  const rows = [...document.querySelectorAll(".left tbody tr")];
  const texts = rows.map((row) => row.textContent.toLowerCase());
  const count = document.querySelector(".count");
  const filter = () => {
    const locale = form.locale.value, state = form.state.value, search = form.search.value.toLowerCase();
    let shown = 0;
    rows.forEach((row, at) => {
      const fits = (!locale || row.dataset.locale === locale) && (!state || row.dataset.state === state) && texts[at].includes(search);
      row.hidden = !fits;
      shown += fits;
    });
    count.textContent = shown === 1 ? "1 text" : `${shown} texts`;
  };
  form.hidden = false;
  form.addEventListener("input", filter);
  form.addEventListener("submit", (event) => event.preventDefault());
  filter();
}
