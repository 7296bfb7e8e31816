package finding

import "lagoon/internal/core/money"

// This file holds what is the same for every finding of a kind: one row each.

// Sort is a row of the table of kinds.
type Sort struct {
	Kind Kind
	// Ways to settle it while it is outside, the most usual first; none where it moves on by
	// itself, or is about a delivery and counted again there. What may never be accepted can only
	// be corrected or refused (rules §6).
	Ways []Way
	// Awaited are the ways while it waits for goods.
	Awaited []Way
	// Turn is the role whose turn it is while it is outside (rules §12).
	Turn string
	// Blocks is what it stops.
	Blocks Block
	// Authority: accepting it takes the role approver and counts toward their authority. Where
	// not, it takes a second person and no amount.
	Authority bool
	// Apart tells by what findings of the kind, line and side are told apart; nil where there is
	// one only.
	Apart func(Finding) About
}

var (
	acceptable = []Way{Accept, Correct, Refuse}
	entry      = []Way{Correct, Refuse}
	found      = []Way{Tie, Correct, Refuse}
)

func byOrderAndCharge(f Finding) About { return About{Order: f.Order, Charge: f.Charge} }

func byOther(f Finding) About { return About{Other: int64(f.Reference.Floor() / money.Int(1))} }

// Kinds is the table, in the order in which the rules name them (§4, §6).
var Kinds = []Sort{
	{Kind: OverDelivery, Turn: "receiver"},
	{Kind: UnderDelivery, Turn: "receiver"},
	{Kind: PartDelivery, Turn: "receiver"},
	{Kind: FullDelivery, Turn: "receiver"},

	{
		Kind:      OverReceived,
		Ways:      acceptable,
		Awaited:   []Way{Deliver, Accept, Correct, Refuse},
		Turn:      "approver",
		Authority: true,
	},
	{Kind: OverOrdered, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: UnitPrice, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: UnitDiffers, Ways: entry, Turn: "clerk"},
	{Kind: CurrencyDiffers, Ways: entry, Turn: "clerk"},
	{Kind: TaxRateDiffers, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: ChargeNotOrdered, Ways: []Way{Accept, Plan, Correct, Refuse}, Turn: "approver", Authority: true, Apart: byOrderAndCharge},
	{Kind: ChargeTaxRate, Ways: acceptable, Turn: "approver", Authority: true, Apart: byOrderAndCharge},
	{Kind: TaxAmount, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: TaxCodeMissing, Ways: entry, Turn: "clerk"},
	{Kind: StatedTotal, Ways: entry, Turn: "clerk"},
	{Kind: PrepaidStated, Ways: entry, Turn: "clerk"},
	{Kind: PrepaymentUnused, Ways: []Way{Use, Leave, Correct, Refuse}, Turn: "clerk", Apart: byOther},
	{Kind: RequestedAhead, Awaited: entry, Turn: "treasurer", Apart: byOther},
	{Kind: PrepaymentAbove, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: LikelyDuplicate, Ways: []Way{Refuse, Accept, Correct}, Turn: "approver", Authority: true, Apart: byOther},
	{Kind: OrderNotOpen, Ways: entry, Turn: "clerk"},
	{Kind: LineClosed, Ways: entry, Turn: "clerk"},
	{Kind: SelfBilled, Ways: []Way{Refuse, Correct}, Turn: "clerk"},
	// Not chosen beforehand: what is alike in words is soon another company.
	{Kind: SupplierUnknown, Ways: []Way{Correct, Tie, Refuse}, Turn: "clerk"},
	{Kind: OrderUnknown, Ways: found, Turn: "clerk"},
	{Kind: LineUnknown, Ways: found, Turn: "clerk"},
	{Kind: QuantityMissing, Ways: entry, Turn: "clerk"},
	{Kind: WholeUnits, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: CreditNote, Ways: entry, Turn: "clerk"}, // of versions before credit notes were booked
	{Kind: Creditable, Ways: entry, Awaited: []Way{Return, Correct, Refuse}, Turn: "clerk"},
	{Kind: CreditUnclear, Ways: entry, Turn: "clerk"},
	{Kind: PriceCredited, Turn: "clerk"},
	{Kind: InvoiceAwaited, Awaited: entry, Turn: "clerk"},
	{Kind: NotBooked, Ways: entry, Turn: "clerk"},
	{Kind: DateAhead, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: Addressee, Ways: []Way{Refuse, Accept, Correct}, Turn: "approver", Authority: true},
	{Kind: PageDiffers, Ways: []Way{Refuse, Accept, Correct}, Turn: "approver", Authority: true},
	{Kind: ApprovalMissing, Ways: []Way{Approve, PassOn, Correct, Refuse}, Turn: "approver", Authority: true},
	{Kind: Invoicer, Ways: entry, Turn: "clerk"},
	{Kind: OnHold, Turn: "clerk"}, // or whoever may clear it
	{Kind: OwnChange, Ways: acceptable, Turn: "approver", Authority: true},
	{Kind: NoRate, Turn: "treasurer"},
	{Kind: BankAccount, Ways: []Way{Accept}, Turn: "treasurer", Blocks: BlocksRelease},
	{Kind: SupplierBlocked, Turn: "treasurer", Blocks: BlocksRelease},
	{Kind: MatchFailed, Turn: "clerk"},
}

var sorts = func() map[Kind]Sort {
	all := map[Kind]Sort{}
	for _, s := range Kinds {
		all[s.Kind] = s
	}
	return all
}()

// Sort is the row of the finding's kind.
func (f Finding) Sort() Sort { return sorts[f.Kind] }

// Blocks is what the finding stops.
func (f Finding) Blocks() Block { return f.Sort().Blocks }

// About tells what else of its kind, line and side the finding is about.
func (f Finding) About() About {
	if apart := f.Sort().Apart; apart != nil {
		return apart(f)
	}
	return About{}
}

// Ways are the ways to settle the finding, the most usual first; none once it is settled.
func (f Finding) Ways() []Way {
	switch {
	case !f.Open():
		return nil
	case f.Verdict == Waiting && f.Sort().Awaited != nil:
		return f.Sort().Awaited
	}
	return f.Sort().Ways
}

// QuestionHold is the reason of a hold that waits for the answer to a question; it ends with the question.
const QuestionHold = "question"

// Asks tells whether the finding is a question that is not answered yet.
func (f Finding) Asks() bool { return f.Kind == OnHold && f.Text == QuestionHold }

// Turn names whose turn it is to settle the finding: a role of rules §12, or in words who is asked a question.
func (f Finding) Turn() string {
	if f.Kind == OnHold && f.Other != "" {
		return f.Other
	}
	if f.Verdict == Waiting && f.Kind != InvoiceAwaited {
		return "receiver"
	}
	return f.Sort().Turn
}
