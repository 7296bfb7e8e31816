package demo

import (
	"lagoon/internal/act"
	"lagoon/internal/core/finding"
	"lagoon/internal/format/eml"
	"lagoon/internal/jobs/intake"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/questions"
	"lagoon/internal/store"
)

// questions: the clerk asked the buyer about salt that is late, who has not answered yet, and the receiver about a
// delivery, who has; a note for the buyer stands on an order.
func (b *builder) questions(late, feed *int64) {
	b.on(-3, 15, func() error {
		_, err := b.asked("nora", questions.Entry{
			Kind: store.AQuestion, Invoice: *late, Finding: finding.OverReceived, Line: 1, Person: "maren", RemindAfter: 2,
			Text: "24 t of salt are invoiced and have not come. Do they say when?",
		})
		return err
	})
	var weighed int64
	b.on(-2, 11, func() (err error) {
		weighed, err = b.asked("nora", questions.Entry{
			Kind: store.AQuestion, Order: *feed, Line: 1, Role: "receiver", Text: "Was the krill of DN 5438 weighed, or only counted?",
		})
		return err
	})
	b.on(-2, 14, func() error {
		_, err := questions.Answer(b.ctx, b.app, b.as("lewis"), questions.Reply{Question: weighed, Text: "Counted, and two cartons weighed: 12.1 and 12.0 kg."})
		return err
	})
	b.on(-2, 15, func() error {
		_, err := questions.See(b.ctx, b.app, b.as("nora"), questions.Reply{Question: weighed})
		return err
	})
	var asked int64
	b.on(-3, 16, func() (err error) {
		asked, err = b.asked("nora", questions.Entry{
			Kind: store.AQuestion, Invoice: *late, Role: store.AskedSupplier, Text: "The 24 t of this invoice have not come. When were they sent?",
		})
		return err
	})
	b.on(-2, 9, func() error {
		raw, err := eml.Write(eml.Message{
			ID: "tanker", From: "Halden Salt Works <ledger@halden.example>", To: "invoices@skerry-point.example", On: b.now,
			Subject: "Re: our invoice " + act.QuestionMark(asked), Text: "The tanker leaves us on Monday.",
		})
		if err != nil {
			return err
		}
		mail, err := intake.TakeMail(b.ctx, b.app, act.Command{Actor: act.Lagoon}, store.MailByIMAP, raw, invoices.Arrive)
		if err != nil {
			return err
		}
		if _, err = questions.Answer(b.ctx, b.app, b.as("nora"), questions.Reply{Question: asked, Text: "The tanker leaves them on Monday."}); err != nil {
			return err
		}
		_, err = intake.AnswerMail(b.ctx, b.app, b.as("nora"), intake.Reply{Mail: mail.Number, Text: "Thank you. We pay once it is here."})
		return err
	})
	b.on(-1, 10, func() error {
		_, err := b.asked("lewis", questions.Entry{
			Kind: store.ANote, Order: *feed, Person: "maren", Text: "The driver asks for the back door: the ramp in front is being mended until Friday.",
		})
		return err
	})
}

func (b *builder) asked(who string, entry questions.Entry) (int64, error) {
	asked, err := questions.Ask(b.ctx, b.app, b.as(who), entry)
	return asked.Number, err
}
