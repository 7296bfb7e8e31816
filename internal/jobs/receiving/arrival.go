package receiving

import (
	"context"
	"encoding/json"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/photo"
	"lagoon/internal/store"
)

// Counted answers CountArrival.
type Counted struct{ Number int64 }

// CountArrival keeps what was counted at the door, for another person to book (rules
// §4). Nothing is booked: what is past a limit is decided then.
func CountArrival(ctx context.Context, a *act.App, c act.Command, entry DeliveryEntry) (Counted, error) {
	return act.Perform(ctx, a, act.CountArrival, c, func(w *act.Work) (Counted, error) {
		if !w.Ours.TwoStep {
			return Counted{}, fault.New(
				fault.Refused,
				"",
				"Deliveries are booked in one step here. The administrator can change that.",
			)
		}
		planned, err := planDelivery(w.Reading, entry, w.Actor.ID, countsGoods)
		if err != nil {
			return Counted{}, err
		}
		number, err := w.NextNumber(store.ArrivalSeries)
		if err != nil {
			return Counted{}, err
		}
		kept, err := json.Marshal(entry)
		if err != nil {
			return Counted{}, err
		}
		for _, photo := range entry.Photos {
			if _, err := w.PaperNamed(photo); err != nil {
				return Counted{}, act.Found(err, "A photograph was not kept. Take it again.")
			}
		}
		return Counted{number}, errors.Join(
			w.AddArrival(
				store.Arrival{Number: number, Order: planned.Order.ID, Entry: kept, By: w.Actor.ID, At: w.Instant()},
			),
			w.Record("arrival", number, nil, entry),
		)
	})
}

// DiscardArrival takes away a count that is not to be booked.
func DiscardArrival(ctx context.Context, a *act.App, c act.Command, number int64, reason string) (Counted, error) {
	return act.Perform(ctx, a, act.DiscardArrival, c, func(w *act.Work) (Counted, error) {
		counted, err := openArrival(w.Reading, number, 0)
		if err != nil {
			return Counted{}, err
		}
		counted.State = store.ArrivalDiscarded
		return Counted{
				number,
			}, errors.Join(
				w.SaveArrival(counted),
				w.Record("arrival", number, nil, struct{ Discarded string }{reason}),
			)
	})
}

// openArrival finds a count that is not booked yet, of an order (zero: any).
func openArrival(r act.Reading, number, order int64) (store.Arrival, error) {
	counted, err := r.ArrivalByNumber(number)
	switch {
	case err != nil:
		return counted, act.Found(err, "There is no count %d at the door.", number)
	case counted.State != store.ArrivalOpen:
		return counted, fault.New(fault.Changed, "", "The count %d at the door is %s meanwhile.", number, counted.State)
	case order != 0 && counted.OrderNumber != order:
		return counted, fault.New(
			fault.Invalid,
			"order",
			"The count %d at the door is of order %d.",
			number,
			counted.OrderNumber,
		)
	}
	return counted, nil
}

// arrived ends the notice and the count that a delivery started from.
func arrived(w *act.Work, delivery int64, entry DeliveryEntry) error {
	if entry.Arrival != 0 {
		counted, err := openArrival(w.Reading, entry.Arrival, entry.Order)
		if err != nil {
			return err
		}
		counted.State, counted.Delivery = store.ArrivalBooked, delivery
		if err := w.SaveArrival(counted); err != nil {
			return err
		}
	}
	if entry.Notice == 0 {
		return nil
	}
	notice, err := w.NoticeByNumber(entry.Notice)
	if err != nil {
		return act.Found(err, "There is no notice %d.", entry.Notice)
	}
	if notice.State != store.NoticeOpen || notice.OrderNumber != entry.Order {
		return fault.New(
			fault.Changed,
			"notice",
			"Notice %d of order %d is %s.",
			notice.Number,
			notice.OrderNumber,
			notice.State,
		)
	}
	notice.State, notice.Delivery = store.NoticeArrived, delivery
	return w.SaveNotice(notice)
}

// startAgain opens the notice and the count again that a reversed delivery started from:
// the goods are still to be booked.
func startAgain(w *act.Work, original store.Delivery) error {
	notices, err1 := w.Tx.Notices(original.Order)
	arrivals, err2 := w.Arrivals(original.Order)
	if err := errors.Join(err1, err2); err != nil {
		return err
	}
	for _, n := range notices {
		if n.Delivery == original.ID {
			n.State, n.Delivery = store.NoticeOpen, 0
			if err := w.SaveNotice(n); err != nil {
				return err
			}
		}
	}
	for _, a := range arrivals {
		if a.Delivery == original.ID {
			a.State, a.Delivery = store.ArrivalOpen, 0
			if err := w.SaveArrival(a); err != nil {
				return err
			}
		}
	}
	return nil
}

// ArrivalSheet is a count at the door with its entry.
type ArrivalSheet struct {
	store.Arrival
	Entry DeliveryEntry
}

// Arrival reads a count at the door.
func Arrival(ctx context.Context, a *act.App, number int64) (ArrivalSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s ArrivalSheet, err error) {
		if s.Arrival, err = r.ArrivalByNumber(number); err != nil {
			return s, act.Found(err, "There is no count %d at the door.", number)
		}
		return s, json.Unmarshal(s.Arrival.Entry, &s.Entry)
	})
}

// Photograph limits: the browser makes them smaller than this before it sends them.
const (
	MostPhotoBytes = 4 << 20
	mostPhotos     = 20
)

// KeptPhoto answers KeepPhoto: the name under which a booking refers to it.
type KeptPhoto struct{ SHA256 string }

// KeepPhoto keeps a photograph that a delivery is going to be booked with: the picture
// alone, without what the camera wrote beside it.
func KeepPhoto(ctx context.Context, a *act.App, c act.Command, file act.File) (KeptPhoto, error) {
	if err := c.Actor.Allowed(act.KeepPhoto); err != nil {
		return KeptPhoto{}, err
	}
	tooLarge := fault.New(
		fault.Invalid,
		"photos",
		"%s is too large: at most %d pixels on an edge and %d MB.",
		file.Name,
		photo.MostEdge,
		MostPhotoBytes>>20,
	)
	if len(file.Content) > MostPhotoBytes {
		return KeptPhoto{}, tooLarge
	}
	picture, media, err := photo.Clean(file.Content)
	switch {
	case errors.Is(err, photo.ErrTooLarge):
		return KeptPhoto{}, tooLarge
	case err != nil:
		return KeptPhoto{}, fault.New(fault.Invalid, "photos", "%s is no JPEG or PNG picture.", file.Name)
	}
	return act.Perform(ctx, a, act.KeepPhoto, c, func(w *act.Work) (KeptPhoto, error) {
		id, err := w.KeepPaper(file.Name, media, picture, w.Instant())
		if err != nil {
			return KeptPhoto{}, err
		}
		paper, _, err := w.Paper(id)
		return KeptPhoto{
				paper.SHA256,
			}, errors.Join(
				err,
				w.RecordAs("photo", paper.SHA256, nil, struct{ Name string }{file.Name}),
			)
	})
}

// keepPhotos ties photographs that were kept before to a delivery.
func keepPhotos(w *act.Work, delivery int64, photos []string) error {
	if len(photos) > mostPhotos {
		return fault.New(fault.Invalid, "photos", "A delivery has at most %d photographs.", mostPhotos)
	}
	for i, name := range photos {
		if slices.Contains(photos[:i], name) {
			continue // the same picture twice
		}
		paper, err := w.PaperNamed(name)
		if err != nil {
			return act.Found(err, "A photograph was not kept. Take it again.")
		}
		if err := w.AddPhoto(delivery, i+1, paper.ID); err != nil {
			return err
		}
	}
	return nil
}

// Photo is a photograph of a delivery, counted from 1.
func Photo(ctx context.Context, a *act.App, delivery int64, no int) (store.Paper, []byte, error) {
	var content []byte
	paper, err := act.Read(ctx, a, func(r act.Reading) (p store.Paper, err error) {
		d, err := r.DeliveryByNumber(delivery)
		if err != nil {
			return p, act.Found(err, "There is no delivery %d.", delivery)
		}
		photos, err := r.PhotosOf(d.ID)
		if err != nil || no < 1 || no > len(photos) {
			return p, errors.Join(err, fault.New(fault.NotFound, "", "Delivery %d has no photograph %d.", delivery, no))
		}
		p, content, err = r.Paper(photos[no-1])
		return p, err
	})
	return paper, content, err
}

// Door is what lies at the door: counted and not booked, and announced.
type Door struct {
	Arrivals []store.Arrival
	Notices  []store.Notice
	More     int64 // than are given
}

// AtTheDoor reads what was counted at the door and what is announced.
func AtTheDoor(ctx context.Context, a *act.App) (Door, error) {
	return act.Read(ctx, a, func(r act.Reading) (d Door, err error) {
		if d.Arrivals, err = r.OpenArrivals(); err == nil {
			d.Notices, err = r.OpenNotices()
		}
		d.More = r.LeftOut()
		return d, err
	})
}
