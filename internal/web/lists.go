package web

// This file translates lists that are looked up, and what people keep of them.

import (
	"bytes"
	"cmp"
	"context"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/lists"
	"lagoon/internal/web/contract"
)

// listNamed finds a list by its key.
func listNamed(key string) (*lists.List, error) {
	if l := lists.Named(key); l != nil {
		return l, nil
	}
	return nil, fault.New(fault.NotFound, "", "There is no list “%s”.", key)
}

// GetLists tells what can be looked up.
func (h *handlers) GetLists(ctx context.Context, _ contract.GetListsRequestObject) (contract.GetListsResponseObject, error) {
	kept, err := lists.AllKept(ctx, h.app, actorOf(ctx))
	all := contract.Lists{Kept: each(kept, keptOf), Parts: []contract.ListPart{}}
	for _, part := range lists.All {
		all.Parts = append(all.Parts, contract.ListPart{
			Title: part.Title,
			Lists: each(part.Lists, func(l *lists.List) contract.ListName { return contract.ListName{Key: l.Key, Title: l.Title} }),
		})
	}
	return contract.GetLists200JSONResponse(all), err
}

// GetList reads a part of a list.
func (h *handlers) GetList(ctx context.Context, r contract.GetListRequestObject) (contract.GetListResponseObject, error) {
	l, err := listNamed(r.List)
	if err != nil {
		return nil, err
	}
	asked := lists.Asked{Show: value(r.Params.Show), Sort: value(r.Params.Sort), Group: value(r.Params.Group), Columns: value(r.Params.Columns)}
	page, err := lists.Read(ctx, h.app, actorOf(ctx), l, asked, value(r.Params.From))
	if err != nil {
		return nil, err
	}
	answer := contract.ListPage{Key: l.Key, Title: l.Title, Says: l.Says, At: string(page.At), More: page.More, Show: page.Show}
	shown := map[*lists.Column]bool{}
	for _, c := range page.Columns {
		shown[c] = true
		answer.Columns = append(answer.Columns, columnOf(c, true))
	}
	for i := range l.Columns {
		if c := &l.Columns[i]; !shown[c] {
			answer.Columns = append(answer.Columns, columnOf(c, false))
		}
	}
	answer.Words = each(l.Words, func(w lists.Word) contract.ListWord {
		word := contract.ListWord{Key: w.Key, Text: w.Text, Takes: string(cmp.Or(w.Takes, lists.Nothing))}
		if offered := append(page.Offers[w.Takes], w.Choices...); len(offered) > 0 {
			choices := each(offered, func(c lists.Choice) contract.ListChoice { return contract.ListChoice{Value: c.Value, Text: c.Text} })
			word.Choices = &choices
		}
		return word
	})
	answer.Tags = each(page.Tags, func(t lists.Tag) contract.ListTag {
		return contract.ListTag{Word: t.Word, Value: t.Value, Text: t.Text}
	})
	answer.Rows = each(page.Rows, func(row lists.Row) contract.ListRow {
		to := contract.ListRow{Currency: string(row.Currency)}
		if page.Group != nil {
			to.Group = &row.Group
		}
		for i, c := range page.Columns {
			to.Cells = append(to.Cells, contract.ListCell{T: row.Cells[i].Written(c, row.Currency, page.Company), To: some(row.Cells[i].To)})
		}
		return to
	})
	return contract.GetList200JSONResponse(answer), nil
}

func columnOf(c *lists.Column, shown bool) contract.ListColumn {
	return contract.ListColumn{Key: c.Key, Title: c.Title, Kind: string(c.Kind), Link: some(c.Link), Groups: c.Groups, Shown: shown}
}

// GetListSums counts and sums a list.
func (h *handlers) GetListSums(ctx context.Context, r contract.GetListSumsRequestObject) (contract.GetListSumsResponseObject, error) {
	l, err := listNamed(r.List)
	if err != nil {
		return nil, err
	}
	asked := lists.Asked{Show: value(r.Params.Show), Group: value(r.Params.Group), Columns: value(r.Params.Columns)}
	t, err := lists.Sums(ctx, h.app, actorOf(ctx), l, asked)
	if err != nil {
		return nil, err
	}
	sums := func(all []lists.Sum) []contract.ListSum {
		return each(all, func(s lists.Sum) contract.ListSum { return sumOf(s, t.Columns, t.Company) })
	}
	return contract.GetListSums200JSONResponse{
		Count: t.Count, Sums: sums(t.Sums),
		Groups: each(t.Groups, func(g lists.Group) contract.ListGroup {
			return contract.ListGroup{Name: g.Name, Count: g.Count, Sums: sums(g.Sums)}
		}),
	}, nil
}

func sumOf(s lists.Sum, columns []*lists.Column, company money.Currency) contract.ListSum {
	sum := contract.ListSum{Currency: string(s.Currency), Of: map[string]string{}}
	for _, c := range columns {
		if n, ok := s.Of[c.Key]; ok {
			sum.Of[c.Key] = lists.Cell{N: n}.Written(c, s.Currency, company)
		}
	}
	return sum
}

// TakeList gives a list as a file.
func (h *handlers) TakeList(ctx context.Context, r contract.TakeListRequestObject) (contract.TakeListResponseObject, error) {
	l, err := listNamed(r.List)
	if err != nil {
		return nil, err
	}
	asked := lists.Asked{Show: value(r.Params.Show), Sort: value(r.Params.Sort), Group: value(r.Params.Group), Columns: value(r.Params.Columns)}
	file, err := lists.Take(ctx, h.app, actorOf(ctx), l, asked, r.Params.As)
	if err != nil {
		return nil, err
	}
	if err := h.app.Note(ctx, command(ctx, nil, nil), act.TakeList, "table", l.Key, asked); err != nil {
		return nil, err
	}
	download(ctx, file.Name)
	return contract.TakeList200ApplicationoctetStreamResponse{Body: bytes.NewReader(file.Content), ContentLength: int64(len(file.Content))}, nil
}

func keptOf(k lists.Kept) contract.KeptList {
	return contract.KeptList{
		Number: k.Number, Name: k.Name, List: k.List, Asked: contract.ListAsked{Show: k.Asked.Show, Sort: k.Asked.Sort, Group: k.Asked.Group, Columns: k.Asked.Columns}, ForAll: k.ForAll, By: k.ByName, Mine: k.Mine,
		WeeklyTo: k.WeeklyTo, WeeklyAs: k.WeeklyAs, Daily: k.Daily,
	}
}

// KeepList keeps a list under a name.
func (h *handlers) KeepList(ctx context.Context, r contract.KeepListRequestObject) (contract.KeepListResponseObject, error) {
	k, err := lists.Keep(ctx, h.app, command(ctx, r.Params.Key, r.Body), lists.Entry{
		Number: value(r.Body.Number), Name: r.Body.Name, List: r.Body.List, Asked: askedList(r.Body.Asked), ForAll: r.Body.ForAll,
		WeeklyTo: value(r.Body.WeeklyTo), WeeklyAs: value(r.Body.WeeklyAs), Daily: value(r.Body.Daily),
	})
	return contract.KeepList200JSONResponse(keptOf(k)), err
}

// askedList is what is asked of a list, as it is sent.
func askedList(a contract.ListAsked) lists.Asked {
	return lists.Asked{Show: a.Show, Sort: a.Sort, Group: a.Group, Columns: a.Columns}
}

// EndKeptList keeps a list no longer.
func (h *handlers) EndKeptList(ctx context.Context, r contract.EndKeptListRequestObject) (contract.EndKeptListResponseObject, error) {
	k, err := lists.EndKept(ctx, h.app, command(ctx, r.Params.Key, struct{ Number int64 }{r.Number}), r.Number)
	return contract.EndKeptList200JSONResponse(keptOf(k)), err
}

// MailList mails a list.
func (h *handlers) MailList(ctx context.Context, r contract.MailListRequestObject) (contract.MailListResponseObject, error) {
	mailed, err := lists.Mail(ctx, h.app, command(ctx, r.Params.Key, r.Body), lists.Mailing{
		List: r.Body.List, Asked: askedList(r.Body.Asked), As: r.Body.As, To: r.Body.To, Text: value(r.Body.Text),
	})
	return contract.MailList200JSONResponse{List: mailed.List, To: mailed.To}, err
}
