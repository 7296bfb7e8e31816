// Package cases runs worked histories, each with what it must come to, through the real jobs
// on real SQLite. The files beside this one say what happens in the words of the trade and were
// worked by hand; README.md has their format.
package cases

import (
	"fmt"
	"slices"
	"strings"

	"go.yaml.in/yaml/v3"
)

// history is one case: settings, and steps with what must come of each.
type history struct {
	Case      string
	Rules     string
	Unsure    bool
	Company   companyWords
	People    map[string]personWords
	Suppliers map[string]supplierWords
	Items     map[string]itemWords
	Budgets   map[string]budgetWords
	TaxCodes  map[string]taxWords `yaml:"tax_codes"`
	Rates     []rateWords
	OpenFrom  string `yaml:"open_from"`
	Steps     []step

	file string
}

// Each kind of words keeps what it does not know, so that a case that says more than is built
// here is named and not half run.
type unknown map[string]yaml.Node

type limitWords map[string]map[string]struct{ Percent, Absolute string }

type companyWords struct {
	Currency      string
	Level         string
	OverDelivery  bool `yaml:"over_delivery"`
	UnderDelivery bool `yaml:"under_delivery"`
	Reduces       bool `yaml:"discount_reduces_tax"`
	Limits        limitWords
	More          unknown `yaml:",inline"`
}

type personWords struct {
	Role, Authority string
	More            unknown `yaml:",inline"`
}

type termWords struct {
	Days       int
	EndOfMonth bool `yaml:"end_of_month"`
	Day        int
	Discounts  []struct {
		Days    int
		Percent string
	}
	Instalments []struct {
		Percent string
		Days    int
	}
	More unknown `yaml:",inline"`
}

type supplierWords struct {
	Currency    string
	Terms       termWords
	FromReceipt bool `yaml:"from_receipt"`
	Level       string
	Limits      limitWords
	Items       map[string]struct {
		Level  string
		Limits limitWords
		More   unknown `yaml:",inline"`
	}
	More unknown `yaml:",inline"`
}

type itemWords struct {
	Unit        string
	Whole       bool
	Account     string
	Level       string
	Limits      limitWords
	Conversions map[string]string
	More        unknown `yaml:",inline"`
}

type budgetWords struct {
	Account  string
	Budgeted string  // what it is compared with in after.budgets alone
	More     unknown `yaml:",inline"`
}

type taxWords struct {
	Category, Rate string
	Rates          []struct{ From, Rate string }
	More           unknown `yaml:",inline"`
}

// rates are those of the code; one alone holds from before every case.
func (w taxWords) rates() []struct{ From, Rate string } {
	if w.Rates == nil {
		return []struct{ From, Rate string }{{"2000-01-01", w.Rate}}
	}
	return w.Rates
}

type rateWords struct{ Currency, Day, Rate string }

// lineWords is a line of any document.
type lineWords struct {
	Budgets map[string]string

	Order, Item, Text, Unit, Tax, Budget, Level, Charge, Reason, Note, For string

	SelfBilled bool `yaml:"self_billed"`

	Run, Debit, Credit, Fee string // of a bank's statement
	Supplier                string

	Line                                int
	Quantity, Price, Per, Net, Discount string
	TaxAmount                           string `yaml:"tax_amount"`
	Refused                             string `yaml:"refused_at_door"`
	Last                                bool
	Notes                               []string
	Defer                               *deferWords
	Limits                              limitWords
	More                                unknown `yaml:",inline"`
}

// deferWords spread a line over months.
type deferWords struct {
	From   string
	Months int
}

type chargeWords struct {
	Kind, Net, Tax string
	More           unknown `yaml:",inline"`
}

// step is one act, and what must come of it.
type step struct {
	On, Do, By, No, Order, Supplier, Note, Reason, What, Invoice, Finding, Date, Posting, Arrived, Due, Run, Code, Account, Currency, Day, Rate, Period, Until, Total, Rounding, Return string

	PayOn      string `yaml:"pay_on"`
	TaxPoint   string `yaml:"tax_point"`
	CreditNote string `yaml:"credit_note"`
	Adjustment string
	Claim, Net string

	Kind, Percent, Amount, Agreement, Prepayment, Prepaid, From string

	States     string // of a corrected invoice: difference, or anew
	Line       int
	All        bool
	SecondPart bool `yaml:"second_part"`
	Lines      []lineWords
	Charges    []chargeWords
	Allowances []chargeWords
	Tax        map[string]string
	Invoices   []string
	Part       map[string]string
	PutIn      []string `yaml:"put_in"`
	TakeOut    []string `yaml:"take_out"`
	Apart      []struct{ Supplier, Code string }

	Refused  yaml.Node // words of the refusal, or true
	State    string
	Posted   string
	Changed  bool
	Findings *[]findingWords
	Entry    *[][3]string
	Payments *[]paymentWords
	Trial    bool
	Makes    *[]makesWords
	LeftOut  []string `yaml:"left_out"`
	Then     []thenWords
	After    afterWords
	More     unknown `yaml:",inline"`
}

type findingWords struct {
	Kind, Verdict, Excess, Used, Order string

	Line int
	More unknown `yaml:",inline"`
}

// makesWords are a document that we write ourselves.
type makesWords struct {
	Kind, No, Total, State string

	Entry *[][3]string
	More  unknown `yaml:",inline"`
}

type paymentWords struct {
	Supplier, Amount, Discount string

	Invoices map[string]string
	Credits  map[string]string
	More     unknown `yaml:",inline"`
}

type thenWords struct {
	Invoice, State, Posted string

	CreditNote string `yaml:"credit_note"`

	Findings *[]findingWords
	Entry    *[][3]string
	More     unknown `yaml:",inline"`
}

type afterWords struct {
	Lines    map[string]map[string]string
	Balances map[string]string
	Open     map[string]string
	Due      map[string][][2]string
	Claims   map[string]string
	Deferred map[string]map[string]string
	Budgets  map[string]map[string]string
	Prepaid  map[string]string
	More     unknown `yaml:",inline"`
}

// The acts that are built.
var acts = []string{
	"order",
	"change_order",
	"close",
	"reopen",
	"cancel",
	"deliver",
	"return",
	"undo_return",
	"reverse_delivery",
	"invoice",
	"credit_note",
	"adjustment",
	"correct",
	"accept",
	"free",
	"undo_free",
	"void",
	"refuse",
	"release",
	"take_back_release",
	"propose",
	"approve",
	"send",
	"answer",
	"statement",
	"self_bill",
	"set_rate",
	"set_account",
	"confirm_account",
	"close_period",
	"take_back_run",
	"declare_lost",
	"pay_what_agrees",
	"claim",
	"give_up_claim",
	"withdraw_claim",
	"defer_months",
	"take_due",
	"prepayment_agree",
	"prepayment_invoice",
	"apply",
	"undo_apply",
	"decline",
	"pay_otherwise",
	"refund",
	"accrue",
}

// missing tells what the case asks for that is not built, or nothing.
func (h history) missing() string {
	var lacks []string
	say := func(format string, operands ...any) {
		if words := fmt.Sprintf(format, operands...); !slices.Contains(lacks, words) {
			lacks = append(lacks, words)
		}
	}
	more := func(of string, u unknown) {
		for word := range u {
			say("%s.%s", of, word)
		}
	}
	level := func(l string) {
		if _, known := levels[l]; !known {
			say("level %s", l)
		}
	}
	more("company", h.Company.More)
	level(h.Company.Level)
	for _, p := range h.People {
		more("people", p.More)
	}
	for _, s := range h.Suppliers {
		more("supplier", s.More)
		more("terms", s.Terms.More)
		level(s.Level)
		for _, i := range s.Items {
			more("item at supplier", i.More)
			level(i.Level)
		}
	}
	account := func(a string) {
		if a != "stock" && a != "expense" && a != "assets" && a != "" {
			say("account %s", a)
		}
	}
	for _, i := range h.Items {
		more("item", i.More)
		level(i.Level)
		account(i.Account)
	}
	for _, b := range h.Budgets {
		more("budget", b.More)
		account(b.Account)
	}
	for _, t := range h.TaxCodes {
		more("tax code", t.More)
	}
	for _, s := range h.Steps {
		if !slices.Contains(acts, s.Do) {
			say("%s", s.Do)
			continue
		}
		more(s.Do, s.More)
		more("after", s.After.More)
		for _, l := range s.Lines {
			more(s.Do+" line", l.More)
			level(l.Level)
		}
		for _, c := range append(slices.Clone(s.Charges), s.Allowances...) {
			more("charge", c.More)
		}
		for _, t := range s.Then {
			more("then", t.More)
		}
		if s.Payments != nil {
			for _, p := range *s.Payments {
				more("payment", p.More)
			}
		}
	}
	slices.Sort(lacks)
	return strings.Join(lacks, ", ")
}
