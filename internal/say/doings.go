package say

import (
	"strings"

	"lagoon/internal/core/finding"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
)

// This file holds what was done, and why something is held, in words.

// doings are what each job did, by its name.
var doings = map[string]string{
	"issueOrder":            "order issued",
	"changeOrder":           "order changed",
	"cancelOrder":           "order cancelled",
	"keepDraft":             "draft kept",
	"discardDraft":          "draft discarded",
	"closeLines":            "lines closed",
	"reopenLines":           "lines open again",
	"sendOrder":             "told the supplier",
	"answerOrder":           "supplier answered",
	"handOverMail":          "mail handed over",
	"agreePrepayment":       "money ahead agreed",
	"requestPrepayment":     "money ahead requested",
	"removePrepayment":      "money ahead not agreed any more",
	"usePrepayment":         "said what is done with money ahead",
	"takeBackPrepaymentUse": "use of money ahead taken back",
	"takeStatedDue":         "due date chosen",
	"setOrderTerms":         "terms of payment set",
	"setInvoiceTerms":       "terms of payment set",
	"setInvoicePayee":       "payee set",
	"confirmInvoicePayee":   "payee confirmed",
	"settleOtherwise":       "paid otherwise or refunded",
	"takeBackSettlement":    "payment outside a run taken back",
	"selfBill":              "invoices written by ourselves",
	"agreeSelfBilling":      "agreed who writes the invoices",
	"adviseRun":             "suppliers told of their payments",
	"setBankLine":           "line of a statement set against something",
	"freeBankLine":          "line of a statement open again",
	"bookDelivery":          "delivery booked",
	"reverseDelivery":       "delivery reversed",
	"acceptWork":            "work accepted",
	"takeBackWork":          "acceptance of work taken back",
	"takeMail":              "mail taken in",
	"fileMail":              "mail filed",
	"openMail":              "mail opened again",
	"answerMail":            "mail answered",
	"bookReturn":            "goods returned",
	"countArrival":          "counted at the door",
	"discardArrival":        "count taken away",
	"keepPhoto":             "photograph kept",
	"enterNotice":           "notice entered",
	"readNotice":            "notice read",
	"withdrawNotice":        "notice taken back",
	"importInvoices":        "invoice read",
	"keyInvoice":            "invoice keyed",
	"correctInvoice":        "entry corrected",
	"tieInvoice":            "order or line chosen",
	"forgetCode":            "supplier’s code forgotten",
	"forgetPaper":           "what was learned of its papers forgotten",
	"attachPaper":           "paper put to it",
	"keepBatch":             "kept as typed",
	"runBatch":              "capturing begun",
	"stopBatch":             "capturing stopped",
	"dropBatch":             "given up",
	"detachPaper":           "paper taken away",
	"saveKnown":             "how it knows us changed",
	"acceptFinding":         "difference accepted",
	"acceptFree":            "accepted as free of charge",
	"undoFree":              "free of charge undone",
	"refuseInvoice":         "refused to the supplier",
	"voidInvoice":           "made void",
	"takeBackAcceptance":    "acceptance taken back",
	"approveInvoice":        "approved",
	"passApproval":          "approval passed on",
	"claimInvoice":          "claimed",
	"giveUpClaim":           "claim given up",
	"withdrawClaim":         "claim withdrawn",
	"matchAgain":            "matched again",
	"holdInvoice":           "put on hold",
	"liftHold":              "hold taken off",
	"releaseInvoices":       "released",
	"makeRun":               "run made",
	"approveRun":            "run approved",
	"discardRun":            "run discarded",
	"sendRun":               "sent to the bank",
	"takeBackRun":           "run taken back",
	"declareRunLost":        "run declared lost",
	"takeBackRelease":       "release taken back",
	"takeBankAnswer":        "bank's answer taken",
	"addPerson":             "person added",
	"changePerson":          "roles and authority changed",
	"confirmPerson":         "roles and authority confirmed",
	"resetPassword":         "one-time password given",
	"endPerson":             "ended",
	"changePassword":        "password changed",
	"signOutEverywhere":     "signed out everywhere",
	"nameSubstitute":        "substitute named",
	"endSubstitute":         "substitute ended",
	"signIn":                "signed in",
	"signInRefused":         "sign-in refused",
	"signOut":               "signed out",
	"exportTable":           "table taken out",
	"getRunFile":            "payment file taken out",
	"backup":                "backed up",
	"restore":               "restored",
	"sealKey":               "key of the record changed",
	"saveSupplier":          "supplier saved",
	"holdSupplier":          "hold put on or lifted",
	"confirmAccount":        "bank account confirmed",
	"setLimits":             "limits changed",
	"confirmLimits":         "limits confirmed",
	"saveContact":           "contact saved",
	"saveNote":              "note saved",
	"savePrice":             "price agreed",
	"nameInvoicer":          "who invoices in its place changed",
	"confirmInvoicer":       "who invoices in its place confirmed",
	"saveStandingCharge":    "standing charge changed",
	"saveItem":              "item saved",
	"saveCompany":           "what the company allows changed",
	"saveBudget":            "budget saved",
	"saveBudgetLine":        "planned",
	"saveChargeKind":        "kind of charge saved",
	"saveTaxCode":           "tax code saved",
	"askPeriod":             "asked to open a month again",
	"openPeriod":            "month opened again",
	"keepPeriod":            "month stays closed",
	"approveOrder":          "order approved",
	"refuseOrder":           "order refused",
	"passOrder":             "order passed on",
	"postDeferrals":         "spread costs posted",
	"undoDeferrals":         "posting of spread costs taken back",
	"saveAccount":           "account numbered",
	"setRate":               "rate set",
	"holdOrder":             "put on hold",
	"liftHolds":             "holds taken off",
	"saveHoldReason":        "reason of holds changed",
	"savePlace":             "place of delivery changed",
	"saveDebitAccount":      "account of ours changed",
	"keepSelfBilling":       "what is billed ourselves kept",
	"savePersonMail":        "mail address changed",
	"keepList":              "list kept",
	"planBudget":            "budget planned",
	"carryBudgets":          "budget carried over",
	"saveChase":             "days to chase after set",
	"saveWayIn":             "way in for mails and files set",
	"requireNotice":         "announcing set",
	"takeInvoice":           "taken over",
	"handInvoices":          "handed over",
	"keepStatement":         "supplier's statement kept",
	"askStatement":          "asked for what is missing",
	"saveWeights":           "weights of figures changed",
	"saveGroup":             "group of suppliers changed",
	"keepTrial":             "trial of a limit kept",
	"adoptLimit":            "limit adopted after a trial",
	"mailList":              "list mailed",
	"accrue":                "accrued at month's end",
	"undoAccrual":           "accrual taken back",
	"exportLedger":          "handed to the general ledger",
	"undoLedgerExport":      "batch for the general ledger taken back",
	"getLedgerFile":         "batch for the general ledger taken along",
	"endKeptList":           "list kept no longer",
	"takeList":              "list taken along",
	"askQuestion":           "asked or noted",
	"answerQuestion":        "question answered",
	"passQuestion":          "question passed on",
	"takeBackQuestion":      "question taken back",
	"seeQuestion":           "seen",
	"acceptFindings":        "differences accepted",
	"importTable":           "imported",
	"closePeriod":           "period closed",
	"setUp":                 "set up",
}

// Doing is what a job did, in words; its name where it has none.
func Doing(job string) string {
	if words, ok := doings[job]; ok {
		return words
	}
	return job
}

// HoldReasons are the reasons of a payment hold, code and words, in the order in which they
// are offered.
func HoldReasons() [][2]string {
	return [][2]string{
		{"goods", "goods are in question"},
		{"supplier", "agreed with the supplier"},
		{"paper", "paper is missing"},
		{"other", "other reason"},
	}
}

// HoldReason is why something is on hold, in words: one of those that are offered everywhere, else the company's own, which
// are words.
func HoldReason(code string) string {
	for _, r := range HoldReasons() {
		if r[0] == code {
			return r[1]
		}
	}
	if code == finding.QuestionHold {
		return "a question is open"
	}
	return code
}

var blockings = map[trade.Blocking]string{
	trade.BlocksOrdering: "changing and sending", trade.BlocksReceiving: "receiving", trade.BlocksVerifying: "verifying",
	trade.BlocksReleasing: "releasing", trade.BlocksPaying: "paying",
}

// Blocks says what a hold keeps from being done, one by one.
func Blocks(blocks trade.Blocks) []string {
	var words []string
	for _, b := range blocks {
		words = append(words, blockings[b])
	}
	return words
}

// HoldEnds says what ends a hold by itself; nothing where only a person does.
func (p Printer) HoldEnds(e trade.HoldEnds) string {
	switch e.Until {
	case trade.UntilDay:
		return "until " + p.Day(e.Day)
	case trade.UntilGoods:
		return "until the goods are here"
	case trade.UntilCredit:
		return "until its credit note is here"
	}
	return ""
}

// states are where orders, invoices, runs, payments and suppliers stand.
var states = map[string]string{
	"draft": "waiting for an approver", "issued": "issued", "closed": "closed", "cancelled": "cancelled",
	"captured": "captured", "waiting": "waiting", "held": "held", "verified": "verified", "released": "released",
	"in_payment": "in payment", "paid": "paid", "void": "void", "refused": "refused",
	"proposed": "proposed", "approved": "approved", "sent": "sent", "answered": "answered", "discarded": "discarded", "taken_back": "taken back", "lost": "lost",
	"in_transit": "in transit", "settled": "settled", "rejected": "rejected",
	"payment_held": "payment held", "in_dispute": "in dispute", "nothing_ordered": "nothing ordered", "ended": "ended",
}

// State is where something stands, in words.
func State(state string) string {
	if words, ok := states[state]; ok {
		return words
	}
	return state
}

// Holds are the holds on a supplier, in words.
func Holds(holds trade.Holds) string {
	words := make([]string, len(holds))
	for i, hold := range holds {
		words[i] = State(string(hold))
	}
	return strings.Join(words, " and ")
}

// refusals are why goods are refused at the door.
var refusals = map[receive.Reason]string{
	receive.Damaged: "damaged", receive.Wrong: "wrong goods", receive.TooWarm: "too warm", receive.TooLate: "too late", receive.Surplus: "more than was ordered",
	receive.Another: "another reason",
}

// Refusals are the reasons to refuse goods, code and words, in the order in which they are offered.
func Refusals() [][2]string {
	var all [][2]string
	for _, r := range receive.Reasons {
		all = append(all, [2]string{string(r), refusals[r]})
	}
	return all
}

// Refusal is why goods were refused, in words.
func Refusal(reason string) string { return refusals[receive.Reason(reason)] }

var settledWays = map[string]string{"bank": "by the bank", "cash": "in cash", "card": "by card"}

// Settled is how money moved outside a payment run, in words.
func Settled(way string) string { return settledWays[way] }
