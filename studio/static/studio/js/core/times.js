// Times are shown in the person's own time zone; the page comes with the server's.
const FORMS = {
  time: { hour: "2-digit", minute: "2-digit" },
  day: { day: "numeric", month: "long" },
  date: { weekday: "long", day: "numeric", month: "long", year: "numeric" },
  both: { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" },
};

export const said = (moment, form) => new Intl.DateTimeFormat("en-GB", FORMS[form]).format(new Date(moment));

export function tellTimes(within = document) {
  for (const time of within.querySelectorAll("time[data-as]"))
    time.textContent = said(time.getAttribute("datetime"), time.dataset.as);
}
