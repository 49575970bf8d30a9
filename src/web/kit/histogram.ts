/** Most bars of a histogram. */
const BARS = 36
/** Share of the largest by which values have to differ for them to be spread. */
const ALIKE = 1e-6

const styleOf = (name: string): string =>
  getComputedStyle(document.documentElement).getPropertyValue(name).trim()

/** Draws how values are spread into an element. The chart library comes with the first chart. */
export async function drawHistogram(
  element: HTMLElement,
  values: Float64Array,
  title: string,
  what: string,
): Promise<void> {
  let least = Infinity
  let most = -Infinity
  for (const value of values) {
    if (value < least) least = value
    if (value > most) most = value
  }
  if (values.length === 0 || !Number.isFinite(most)) return
  // what is spread over decades is drawn by powers, or all but one bar would be empty
  const byPowers = least > 0 && most / least > 60
  const place = byPowers ? Math.log10 : (value: number): number => value
  const back = byPowers ? (value: number): number => 10 ** value : (value: number): number => value
  // what is all alike stands in the middle of an axis as long as it is large
  const isAlike = !(most - least > Math.abs(most) * ALIKE)
  const half = Math.abs(most) / 2 || 0.5
  const first = isAlike ? most - half : place(least)
  const width = isAlike ? (2 * half) / BARS : (place(most) - first) / BARS
  const counts = new Array<number>(BARS).fill(0)
  for (const value of values) counts[Math.min(BARS - 1, Math.floor((place(value) - first) / width))]!++
  const { default: Plotly } = await import('plotly.js-basic-dist-min')
  const ink = styleOf('--ink-soft')
  const axis = { color: ink, gridcolor: styleOf('--hairline'), zeroline: false, fixedrange: true }
  await Plotly.react(
    element,
    [
      {
        type: 'bar',
        x: counts.map((_count, bar) => back(first + (bar + 0.5) * width)),
        y: counts,
        width: counts.map((_count, bar) => back(first + (bar + 1) * width) - back(first + bar * width)),
        marker: { color: styleOf('--accent') },
        hovertemplate: `%{x:.4g}: %{y} ${what}<extra></extra>`,
      },
    ],
    {
      margin: { l: 38, r: 4, t: 4, b: 32 },
      paper_bgcolor: 'rgba(0,0,0,0)',
      plot_bgcolor: 'rgba(0,0,0,0)',
      font: { family: 'Inter Variable, sans-serif', size: 10.5, color: ink },
      xaxis: {
        ...axis,
        type: byPowers ? 'log' : 'linear',
        title: { text: title, standoff: 4 },
        showgrid: false,
        nticks: 5,
      },
      yaxis: { ...axis, nticks: 3 },
      bargap: 0.05,
    },
    { displayModeBar: false, responsive: true },
  )
}
