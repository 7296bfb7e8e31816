import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from './schema'
import { send } from './wire'

type Schemas = components['schemas']
export type FirstSending = Schemas['FirstSending']
export type Outgoing = Schemas['Outgoing']
export type Terms = Schemas['Terms']
export type TermsSeen = Schemas['TermsSeen']
export type Session = Schemas['Session']
export type Frame = Schemas['Frame']
export type Person = Schemas['Person']
export type Course = Schemas['Course']
export type Found = Schemas['Found']
export type Event = Schemas['Event']
export type OrderSlip = Schemas['OrderSlip']
export type OrderSheet = Schemas['OrderSheet']
export type OrderEntry = Schemas['OrderEntry']
export type OrderChoices = Schemas['OrderChoices']
export type OrderPreview = Schemas['OrderPreview']
export type Draft = Schemas['Draft']
export type DraftRef = Schemas['DraftRef']
export type ItemChoice = Schemas['ItemChoice']
export type OrderLine = Schemas['OrderLine']
export type Candidate = Schemas['Candidate']
export type Finding = Schemas['Finding']
export type PaperField = Schemas['PaperField']
export type PaperPart = Schemas['PaperPart']
export type BatchKept = Schemas['BatchKept']
export type BatchReport = Schemas['BatchReport']
export type BatchOutcome = Schemas['BatchOutcome']
export type PaperRow = Schemas['PaperRow']
export type KeptPaper = Schemas['KeptPaper']
export type Enclosure = Schemas['Enclosure']
export type Question = Schemas['Question']
export type QuestionEntry = Schemas['QuestionEntry']
export type QuestionPile = Schemas['QuestionPile']
export type Tax = Schemas['Tax']
export type Totals = Schemas['Totals']
export type Way = Schemas['Way']
export type Verdict = Schemas['Verdict']
export type InvoiceSlip = Schemas['InvoiceSlip']
export type InvoiceSheet = Schemas['InvoiceSheet']
export type InvoiceEntry = Schemas['InvoiceEntry']
export type CreditFor = Schemas['CreditFor']
export type CodingProposal = Schemas['CodingProposal']
export type Approver = Schemas['Approver']
export type Claim = Schemas['Claim']
export type ClaimLine = Schemas['ClaimLine']
export type OpenClaim = Schemas['OpenClaim']
export type MoneyAhead = Schemas['MoneyAhead']
export type AheadChoice = Schemas['AheadChoice']
export type InvoiceProposal = Schemas['EntryProposal']
export type InvoiceStart = Schemas['InvoiceStart']
export type OpenReceipt = Schemas['OpenReceipt']
export type Numbered = Schemas['Numbered']
export type ChaseDays = Schemas['ChaseDays']
export type Colleague = Schemas['Colleague']
export type HandedOver = Schemas['HandedOver']
export type Notice = Schemas['Notice']
export type BookedLine = Schemas['BookedLine']
export type CountedOf = Schemas['CountedOf']
export type WayIn = Schemas['WayIn']
export type WayInEntry = Schemas['WayInEntry']
export type EntryPreview = Schemas['EntryPreview']
export type DeliveryEntry = Schemas['DeliveryEntry']
export type DeliveryPreview = Schemas['DeliveryPreview']
export type Entry = Schemas['Entry']
export type HoldsView = Schemas['HoldsView']
export type HoldEntry = Schemas['HoldEntry']
export type SettlingKind = Schemas['SettlingKind']
export type Hold = Schemas['Hold']
export type ImportResult = Schemas['ImportResult']
export type FieldProblem = Schemas['FieldProblem']
export type ProposedRun = Schemas['ProposedRun']
export type AtBank = Schemas['AtBank']
export type Role = Schemas['Role']
export type Lot = Schemas['Lot']
export type Conversion = Schemas['Conversion']
export type DeliverySheet = Schemas['DeliverySheet']
export type Booked = Schemas['Booked']
export type ReturnEntry = Schemas['ReturnEntry']
export type SupplierNote = Schemas['SupplierNote']
export type SupplierSheet = Schemas['SupplierSheet']
export type SupplierName = Schemas['SupplierName']
export type ItemSheet = Schemas['ItemSheet']
export type Limit = Schemas['Limit']
export type LimitsPlan = Schemas['LimitsPlan']
export type Contact = Schemas['Contact']
export type StandingCharge = Schemas['StandingCharge']
export type AgreedPrice = Schemas['AgreedPrice']
export type OpenLine = Schemas['OpenLine']
export type Closing = Schemas['Closing']
export type BudgetLine = Schemas['BudgetLine']
export type TableAnswer = Schemas['TableAnswer']
export type Performance = Schemas['Performance']
export type PlannedCharge = Schemas['PlannedCharge']
export type Photo = Schemas['Photo']
export type Noticed = Schemas['Noticed']
export type ListPage = Schemas['ListPage']
export type ListColumn = Schemas['ListColumn']
export type ListRow = Schemas['ListRow']
export type ListCell = Schemas['ListCell']
export type ListWord = Schemas['ListWord']
export type ListSums = Schemas['ListSums']
export type KeptList = Schemas['KeptList']
export type MonthEnd = Schemas['MonthEnd']
type Problem = Schemas['Problem']

/** A refusal, or a request that never arrived: a sentence, and the fields it belongs to. */
export class Refusal extends Error {
  constructor(readonly problem: Problem) {
    super(problem.sentence)
  }
  /** The sentence that belongs to a field of the entry. */
  at(field: string): string | undefined {
    return this.problem.problems.find((p) => p.field === field)?.sentence
  }
}

const lost: Problem = {
  kind: 'failed',
  sentence: 'Lagoon does not answer. What you typed is kept; try again in a moment.',
  field: '',
  problems: [],
}

// The same command sent again after a lost answer carries the same key, so that it is done once.
const keys = new Map<string, string>()

function newKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (b) => b.toString(16).padStart(2, '0')).join('')
}

const keyed: Middleware = {
  async onRequest({ request }) {
    if (request.method !== 'POST' || request.headers.get('content-type')?.startsWith('multipart/')) return
    const command = `${request.url}\n${await request.clone().text()}`
    const key = keys.get(command) ?? newKey()
    keys.set(command, key)
    request.headers.set('Idempotency-Key', key)
    return request
  },
  onResponse({ request }) {
    const key = request.headers.get('Idempotency-Key')
    for (const [command, kept] of keys) if (kept === key) keys.delete(command)
    return undefined
  },
}

export const api = createClient<paths>({ baseUrl: '', fetch: send })
api.use(keyed)

/** What happens when the session has ended; set by the application. */
export const onSignedOut: { call: () => void } = { call: () => {} }

/** Gives the data of an answer, or throws its refusal. */
export async function unwrap<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer
  try {
    answer = await call
  } catch {
    throw new Refusal(lost)
  }
  if (answer.response.ok) return answer.data as T
  const problem = answer.error as Problem | undefined
  if (problem?.kind === 'sign_in') onSignedOut.call()
  throw new Refusal(problem?.sentence ? problem : lost)
}

/** Sends files to an address of the contract. */
export async function upload<T>(path: string, files: Iterable<File>): Promise<T> {
  const form = new FormData()
  for (const file of files) form.append('files', file)
  return unwrap<T>(
    send(new Request(path, { method: 'POST', body: form })).then(async (response) => {
      const body: unknown = await response.json().catch(() => undefined)
      return response.ok ? { data: body as T, response } : { error: body, response }
    }),
  )
}
