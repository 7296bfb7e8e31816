package web

// This file translates tables that come in and go out.

import (
	"bytes"
	"context"
	"fmt"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/format/tabular"
	"lagoon/internal/tables"
	"lagoon/internal/web/contract"
)

// ExportTable gives suppliers, items or orders as a table.
func (h *handlers) ExportTable(
	ctx context.Context,
	r contract.ExportTableRequestObject,
) (contract.ExportTableResponseObject, error) {
	table, err := tables.Export(ctx, h.app, tables.Kind(r.Kind))
	if err != nil {
		return nil, err
	}
	if err := h.app.Note(ctx, command(ctx, nil, nil), act.ExportTable, "table", r.Kind, nil); err != nil {
		return nil, err
	}
	ending := "csv"
	if value(r.Params.As) == "xlsx" {
		ending = "xlsx"
	}
	content, _, err := tabular.Write(table, ending)
	if err != nil {
		return nil, err
	}
	download(ctx, fmt.Sprintf("%s.%s", r.Kind, ending))
	return contract.ExportTable200ApplicationoctetStreamResponse{
		Body:          bytes.NewReader(content),
		ContentLength: int64(len(content)),
	}, nil
}

// ImportTable takes in a table, or tries it.
func (h *handlers) ImportTable(
	ctx context.Context,
	r contract.ImportTableRequestObject,
) (contract.ImportTableResponseObject, error) {
	var files []act.File
	if err := uploads(r.Body, func(f act.File) error {
		files = append(files, f)
		return nil
	}); err != nil {
		return nil, err
	}
	if len(files) != 1 {
		return nil, fault.New(fault.Invalid, "file", "Choose one table.")
	}
	answer, err := tables.Import(
		ctx,
		h.app,
		command(ctx, nil, nil),
		tables.Kind(r.Kind),
		files[0],
		value(r.Params.Trial),
	)
	return contract.ImportTable200JSONResponse{
		Wrong:  answer.Wrong,
		Orders: append([]int64{}, answer.Orders...),
		Rows: each(answer.Rows, func(o tables.RowOutcome) contract.TableRow {
			return contract.TableRow{Row: o.Row, Name: o.Name, Outcome: o.Outcome, Says: o.Says}
		}),
	}, err
}
