package api

import (
	"bytes"
	"encoding/csv"
	"strconv"

	"jetprimer/exchange"
)

// ID is the path of an operation on one record.
type ID struct {
	ID string `path:"id" format:"uuid"`
}

// File is an answer that is kept as a file.
type File struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// Attachment is a file to be kept under a name.
func Attachment(contentType, name string, data []byte) *File {
	return &File{contentType, `attachment; filename="` + name + `"`, data}
}

// CSVFile is a table that is written already. name goes without its ending.
func CSVFile(name string, data []byte) *File {
	return Attachment("text/csv; charset=utf-8", name+".csv", data)
}

// CSVTable is rows as a file, with nothing in it that a spreadsheet takes for a
// formula.
func CSVTable(name string, rows [][]string) (*File, error) {
	var b bytes.Buffer
	table := csv.NewWriter(&b)
	for _, row := range rows {
		_ = table.Write(exchange.Cells(row))
	}
	table.Flush()
	return CSVFile(name, b.Bytes()), table.Error()
}

// Decimal is a number as a cell has it.
func Decimal(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// CodeFor is the path of an operation that makes a code for somebody.
type CodeFor struct {
	ID   string `path:"id" format:"uuid"`
	Send bool   `query:"send" doc:"by letter, to the person's address"`
}
