package workbook

import (
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/xuri/excelize/v2"

	"turret/internal/export"
)

// Rows writes rows as one sheet with a frozen head and a filter: numbers as numbers, the named columns as dates.
func Rows(w io.Writer, name string, rows func(each func([]string) error) error, days ...int) error {
	f := excelize.NewFile()
	defer f.Close()
	if err := f.SetSheetName("Sheet1", name); err != nil {
		return err
	}
	day, err := f.NewStyle(&excelize.Style{NumFmt: 14})
	if err != nil {
		return err
	}
	bold, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	out, err := f.NewStreamWriter(name)
	if err != nil {
		return err
	}
	if err := out.SetPanes(&excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	n := 0
	err = rows(func(cells []string) error {
		n++
		list := make([]any, len(cells))
		for i, c := range cells {
			switch d, ok := export.Day(c); {
			case n == 1:
				list[i] = excelize.Cell{StyleID: bold, Value: c}
			case c == "":
			case ok && slices.Contains(days, i):
				list[i] = excelize.Cell{StyleID: day, Value: d}
			default:
				if x, ok := export.Float(c); ok && !strings.HasPrefix(c, "0") || c == "0" || strings.HasPrefix(c, "0.") {
					list[i] = x
				} else {
					list[i] = c
				}
			}
		}
		return out.SetRow(fmt.Sprintf("A%d", n), list)
	})
	if err == nil {
		err = out.Flush()
	}
	if err != nil {
		return err
	}
	return f.Write(w)
}
