package export

import (
	"encoding/csv"
	"encoding/json"
	"io"
	"strconv"

	"turret/internal/app/assess"
	"turret/internal/core/schedule"
)

// NetworkHeads are the columns of the network as a file.
var NetworkHeads = []string{"project", "activity", "early_start", "early_finish", "late_start", "late_finish", "total_float",
	"free_float", "critical"}

// Network is the critical path method's result for a scope, one row per activity; summaries have no place in it. Cells of
// activities that cannot be dated are empty.
type Network struct {
	Assessment *assess.Assessment
	Scope      *assess.Scope
}

func (n *Network) rows(each func([]string) error) error {
	for _, p := range n.Scope.Projects {
		for i := range p.Activities {
			if p.Activities[i].Kind == schedule.Summary {
				continue
			}
			if err := each(networkCells(p.Code, p.Activities[i].Code, p.Logic.Times[i])); err != nil {
				return err
			}
		}
	}
	return nil
}

func networkCells(project, activity string, x schedule.Times) []string {
	cells := []string{project, activity, x.EarlyStart.String(), x.EarlyFinish.String(), x.LateStart.String(), x.LateFinish.String(), "",
		"", ""}
	if x.EarlyFinish != 0 {
		cells[6], cells[7] = strconv.Itoa(int(x.TotalFloat)), strconv.Itoa(int(x.FreeFloat))
		cells[8] = map[bool]string{true: "yes", false: "no"}[x.Critical]
	}
	return cells
}

// CSV writes the rows under NetworkHeads.
func (n *Network) CSV(w io.Writer) error {
	out := csv.NewWriter(w)
	if err := out.Write(NetworkHeads); err != nil {
		return err
	}
	err := n.rows(func(cells []string) error {
		cells[0], cells[1] = Safe(cells[0]), Safe(cells[1])
		return out.Write(cells)
	})
	out.Flush()
	if err == nil {
		err = out.Error()
	}
	return err
}

// JSON writes the rows as objects; floats are numbers and critical is true or false, null where there is no date.
func (n *Network) JSON(w io.Writer) error {
	list := []map[string]any{}
	_ = n.rows(func(cells []string) error {
		row := map[string]any{}
		for i, c := range cells {
			switch {
			case c == "":
				row[NetworkHeads[i]] = nil
			case i == 6 || i == 7:
				row[NetworkHeads[i]], _ = strconv.Atoi(c)
			case i == 8:
				row[NetworkHeads[i]] = c == "yes"
			default:
				row[NetworkHeads[i]] = c
			}
		}
		list = append(list, row)
		return nil
	})
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(list)
}
