import { incidentTitle } from '@/core/incidents/incident'
import { database } from '@/store/database'
import { countOpenIncidents, listIncidents } from '@/store/incidents'
import { allChecks } from '../server/definitions'
import { occurrences } from '@/core/planned/recurrence'
import { listMarks } from '@/store/marks'
import { listPlanned } from '@/store/planned'
import { listServices } from '@/store/world'
import { dayStart, dayStartFrom } from '@/core/time/zoned'
import { DayLine } from '@/ui/ribbon/day-line'
import { LiveProvider, RefreshOn } from '@/ui/live/live'
import { Commands } from '@/ui/shell/commands'
import { Header } from '@/ui/shell/header'
import { signOut } from '../actions/account'
import { settings, signedIn } from '../server/session'

export default async function Layout({ children }: { children: React.ReactNode }) {
  const person = await signedIn()
  const { zone, world } = await settings()
  const now = Date.now()
  const day = { from: dayStart(now, zone), to: dayStartFrom(now, 1, zone) }
  const [incidents, open, checks, services, planned, marks] = await Promise.all([
    listIncidents(database(), { from: day.from, to: day.to, limit: 200 }), countOpenIncidents(database()), allChecks(), listServices(database()), listPlanned(database()), listMarks(database(), day)
  ])
  const plans = planned.flatMap(({ planned: each, ends }) => occurrences(each, day, ends).map((occurrence) => ({ key: each.key, title: each.title, does: each.does, ...occurrence })))
  const serviceNames = new Map(services.map((service) => [service.key, `${service.name}, ${service.stage}`]))
  return (
    <LiveProvider>
      <RefreshOn topics={['incident']} pause={2000} />
      <Header person={{ name: person.name, mail: person.mail }} openIncidents={open} isDemo={world !== ''} signOut={signOut} />
      <DayLine day={day} first={now} plans={plans} marks={marks.map(({ id, at, title }) => ({ id, at, title }))} blocks={incidents.filter((each) => (each.endedAt ?? now) > day.from).map((each) => ({ id: each.id, name: each.checkName, trouble: each.trouble, from: each.since, to: each.endedAt ?? each.closedAt }))} />
      <Commands isDemo={world !== ''} incidents={incidents.filter((each) => each.closedAt === null).map((each) => ({ id: each.id, name: incidentTitle({ checkName: each.checkName, trouble: each.trouble }) }))}
        checks={checks.map((stored) => ({ key: stored.check.key, name: stored.check.name, service: serviceNames.get(stored.check.service ?? '') ?? '' }))} />
      <main className="page">{children}</main>
    </LiveProvider>
  )
}
