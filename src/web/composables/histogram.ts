/** Most bars of a histogram. */
const BARS = 36

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
  const width = (most - least) / BARS || Math.abs(most) || 1
  const counts = new Array<number>(BARS).fill(0)
  for (const value of values) counts[Math.min(BARS - 1, Math.floor((value - least) / width))]!++
  const { default: Plotly } = await import('plotly.js-basic-dist-min')
  const ink = styleOf('--ink-soft')
  const axis = { color: ink, gridcolor: styleOf('--hairline'), zeroline: false, fixedrange: true }
  await Plotly.react(
    element,
    [
      {
        type: 'bar',
        x: counts.map((_count, bar) => least + (bar + 0.5) * width),
        y: counts,
        width,
        marker: { color: styleOf('--accent') },
        hovertemplate: `%{x:.4g}: %{y} ${what}<extra></extra>`,
      },
    ],
    {
      margin: { l: 38, r: 4, t: 4, b: 32 },
      paper_bgcolor: 'rgba(0,0,0,0)',
      plot_bgcolor: 'rgba(0,0,0,0)',
      font: { family: 'Inter Variable, sans-serif', size: 10.5, color: ink },
      xaxis: { ...axis, title: { text: title, standoff: 4 }, showgrid: false, nticks: 5 },
      yaxis: { ...axis, nticks: 3 },
      bargap: 0.05,
    },
    { displayModeBar: false, responsive: true },
  )
}
