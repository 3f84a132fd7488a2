package server

import (
	"bytes"
	"encoding/csv"
	"jetprimer/exchange"
	"strconv"
)

type idInput struct {
	ID string `path:"id" format:"uuid"`
}

type fileOutput struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

func csvFile(name string, data []byte) *fileOutput {
	return &fileOutput{"text/csv; charset=utf-8", `attachment; filename="` + name + `.csv"`, data}
}

// csvTable is rows as a file, with nothing in it that a spreadsheet takes for a
// formula.
func csvTable(name string, rows [][]string) (*fileOutput, error) {
	var b bytes.Buffer
	table := csv.NewWriter(&b)
	for _, row := range rows {
		_ = table.Write(exchange.Cells(row))
	}
	table.Flush()
	return csvFile(name, b.Bytes()), table.Error()
}

// decimal is a number as a cell has it.
func decimal(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

type codeForInput struct {
	ID   string `path:"id" format:"uuid"`
	Send bool   `query:"send" doc:"by letter, to the person's address"`
}
