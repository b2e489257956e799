import type { Workbench } from 'acuarela/workbench'

type Comparison = Awaited<ReturnType<Workbench['compared']>>

/** What differs from the saved report, in words. */
export function Changes({ comparison: { cells, restyled, counts } }: { comparison: Comparison }) {
  const isSame = cells.length === 0 && restyled.length === 0
  return (
    <section aria-label="Compared with saved" className="compared">
      {isSame ? (
        <p>Nothing looks different from the saved report.</p>
      ) : (
        <>
          <p>
            {cells.length} {cells.length === 1 ? 'cell changes its' : 'cells change their'} status, {restyled.length}{' '}
            only their style; they are outlined.
          </p>
          <ul>
            {counts
              .filter(({ before, after }) => before !== after)
              .slice(0, 6)
              .map(({ exhibit, measure, label, before, after }) => (
                <li key={`${exhibit} ${measure} ${label}`}>
                  {label} in {exhibit}, {measure}: {before} → {after}
                </li>
              ))}
          </ul>
        </>
      )}
    </section>
  )
}
