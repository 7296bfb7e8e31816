package demo

import (
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/papers"
	"lagoon/internal/store"
)

// attached are papers that were put to what they belong to: a drawing of the pump and the rules of the plant room, which go along
// with orders, a confirmation that came by fax, and one that was put to the wrong order. Some suppliers know us by a number.
func (b *builder) attached(salt *int64) {
	known := map[string]masters.Known{
		"BRACK": {CustomerNumber: "10023", OtherNames: []string{"Brackwater Trading"}},
		"HALDE": {CustomerNumber: "SP 4471", StandingText: "The driver reports at the gate on Pier Road; the silo takes 30 tonnes at most."},
		"PELLW": {CustomerNumber: "P-77"},
	}
	for _, code := range []string{"BRACK", "HALDE", "PELLW"} {
		b.on(-60, 10, func() error {
			_, err := masters.SaveKnown(b.ctx, b.app, b.as("ivo"), code, known[code])
			return err
		})
	}
	put := func(n, hour int, who, kind string, key func() string, name string, content []byte, note string) *int64 {
		number := new(int64)
		b.on(n, hour, func() error {
			kept, err := papers.Attach(b.ctx, b.app, b.as(who), papers.Entry{
				To: papers.Place{Kind: kind, Key: key()}, File: act.File{Name: name, Content: content}, Note: note,
			})
			*number = kept.Number
			return err
		})
		return number
	}
	is := func(key string) func() string { return func() string { return key } }
	put(-55, 11, "ivo", store.OnItem, is("PUMP"), "pump-dimensions.pdf", sheet("Pump, dimensions", "Flange 80 mm, height 640 mm at most."), "")
	put(-55, 11, "ivo", store.OnBudget, is("TECH"), "plant-room-rules.pdf", sheet("Rules of the plant room", "Nobody works there alone."), "for whoever delivers there")
	put(-54, 9, "nora", store.OnItem, is("SALT"), "way-to-the-silo.pdf", sheet("The way to the silo", "By Pier Road, not by the quay: the bridge carries 12 tonnes."), "")
	confirmed, err := fax([]string{"Halden Salt Works", "", "We confirm your order", "", "24 tonnes of salt, as ordered", "Signed: O. Brandt"})
	if err != nil {
		panic("demo: " + err.Error())
	}
	ordered := func() string { return fmt.Sprint(*salt) }
	put(-5, 15, "ivo", store.OnOrder, ordered, "confirmation.tif", confirmed, "came by fax")
	wrong := put(-5, 16, "nora", store.OnOrder, ordered, "offer-sand.pdf", sheet("Offer", "Sand, washed"), "")
	b.on(-5, 17, func() error {
		_, err := papers.TakeAway(b.ctx, b.app, b.as("nora"), *wrong)
		return err
	})
}
