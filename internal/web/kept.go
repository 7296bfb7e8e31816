package web

// This file translates papers that are attached to something, and draws the pages of a TIFF wherever one is kept.

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"io"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/filekind"
	"lagoon/internal/format/scan"
	"lagoon/internal/jobs/papers"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// GetPapers lists the papers that are kept with something.
func (h *handlers) GetPapers(ctx context.Context, r contract.GetPapersRequestObject) (contract.GetPapersResponseObject, error) {
	all, err := papers.Of(ctx, h.app, actorOf(ctx), papers.Place{Kind: r.Params.On, Key: r.Params.Of})
	return contract.GetPapers200JSONResponse{Papers: each(all, func(p papers.Kept) contract.KeptPaper {
		return contract.KeptPaper{
			Number: p.Number, Name: p.Name, Kind: p.MediaType, Said: cmp.Or(filekind.Called(p.MediaType), "a file"), Size: p.Size, Note: p.Note,
			By: p.ByName, At: p.At, May: p.MayTakeAway,
		}
	})}, err
}

// AttachPaper keeps a paper with something.
func (h *handlers) AttachPaper(ctx context.Context, r contract.AttachPaperRequestObject) (contract.AttachPaperResponseObject, error) {
	var kept papers.Attached
	err := uploads(r.Body, func(f act.File) (err error) {
		kept, err = papers.Attach(ctx, h.app, act.Command{Actor: actorOf(ctx)}, papers.Entry{
			To: papers.Place{Kind: r.Params.On, Key: r.Params.Of}, File: f, Note: value(r.Params.Note),
		})
		return err
	})
	if err == nil && kept.Number == 0 {
		err = fault.New(fault.Invalid, "file", "No file came with this.")
	}
	return contract.AttachPaper200JSONResponse{Number: fmt.Sprint(kept.Number)}, err
}

// DetachPaper takes a paper away.
func (h *handlers) DetachPaper(ctx context.Context, r contract.DetachPaperRequestObject) (contract.DetachPaperResponseObject, error) {
	_, err := papers.TakeAway(ctx, h.app, command(ctx, r.Params.Key, nil), r.Number)
	return contract.DetachPaper200JSONResponse{Number: fmt.Sprint(r.Number)}, err
}

// GetKeptPaper gives an attached paper as it came.
func (h *handlers) GetKeptPaper(ctx context.Context, r contract.GetKeptPaperRequestObject) (contract.GetKeptPaperResponseObject, error) {
	paper, content, err := papers.Content(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	download(ctx, paper.Name)
	return contract.GetKeptPaper200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: paper.Size}, nil
}

// drawn is a page of a TIFF as PNG, and how many pages there are.
func drawn(ctx context.Context, name string, content []byte, page int) (io.Reader, *int, error) {
	if filekind.Of(content) != filekind.TIFF {
		return nil, nil, fault.New(fault.Refused, "", "%s is %s. Only the pages of a TIFF are drawn.", name, filekind.Said(content))
	}
	picture, err := scan.Page(content, page)
	if err != nil {
		return nil, nil, err
	}
	showInline(ctx, name+".png")
	return bytes.NewReader(picture), new(scan.Pages(content)), nil
}

// GetKeptPaperPage draws a page of a TIFF that somebody attached.
func (h *handlers) GetKeptPaperPage(ctx context.Context, r contract.GetKeptPaperPageRequestObject) (contract.GetKeptPaperPageResponseObject, error) {
	paper, content, err := papers.Content(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	body, pages, err := drawn(ctx, paper.Name, content, r.Page)
	return contract.GetKeptPaperPage200ImagepngResponse{Body: body, Headers: contract.GetKeptPaperPage200ResponseHeaders{LagoonPages: pages}}, err
}

// GetPaperPage draws a page of the TIFF that an invoice came as.
func (h *handlers) GetPaperPage(ctx context.Context, r contract.GetPaperPageRequestObject) (contract.GetPaperPageResponseObject, error) {
	paper, content, err := views.InvoicePaper(ctx, h.app, r.Number)
	if err != nil {
		return nil, err
	}
	body, pages, err := drawn(ctx, paper.Name, content, r.Page)
	return contract.GetPaperPage200ImagepngResponse{Body: body, Headers: contract.GetPaperPage200ResponseHeaders{LagoonPages: pages}}, err
}

// GetMailFilePage draws a page of a TIFF that a mail carried.
func (h *handlers) GetMailFilePage(ctx context.Context, r contract.GetMailFilePageRequestObject) (contract.GetMailFilePageResponseObject, error) {
	paper, content, err := views.MailPaper(ctx, h.app, r.Number, r.Part)
	if err != nil {
		return nil, err
	}
	body, pages, err := drawn(ctx, paper.Name, content, r.Page)
	return contract.GetMailFilePage200ImagepngResponse{Body: body, Headers: contract.GetMailFilePage200ResponseHeaders{LagoonPages: pages}}, err
}

func enclosureOf(p store.Enclosure) contract.Enclosure {
	return contract.Enclosure{Number: p.Number, Name: p.Name, On: p.To.Kind, Of: p.To.Key, Size: p.Size, Goes: p.Goes}
}
