package intake

import (
	"context"
	"slices"

	"turret/internal/app/kept"
	"turret/internal/core/schedule"
	"turret/internal/record"
)

// rounds reports the links of files that close a cycle, with those that stand already.
func (g *gatherer) rounds(ctx context.Context, view kept.Reading, m *kept.Masters, files []*kept.File) error {
	replaced, any := map[string]bool{}, false
	for _, f := range files {
		if f.Kind == record.Links {
			any = true
			for _, p := range f.OwnersOf() {
				replaced[p] = true
			}
		}
	}
	if !any {
		return nil
	}
	n := &naming{ids: map[[2]string]int32{}}
	codes := make(map[int64]string, len(m.Projects))
	for _, p := range m.Projects {
		codes[p.ID] = p.Code
	}
	type sent struct {
		file *kept.File
		row  int32
		to   string
	}
	var from []sent
	for _, f := range files {
		for i := range f.Links {
			l := &f.Links[i]
			n.link(l.Project, l.FromProject, l.From, l.ToProject, l.To)
			from = append(from, sent{f, l.Row, l.To})
		}
	}
	err := view.Links(ctx, nil, false, func(project int64, l *kept.LinkFact) {
		if code := codes[project]; !replaced[code] {
			n.link(code, l.FromProject, l.From, l.ToProject, l.To)
		}
	})
	if err != nil {
		return err
	}
	for _, cycle := range schedule.NewGraph(len(n.names), n.links).Cycles {
		var names schedule.CycleError
		for _, t := range cycle {
			names = append(names, n.names[t])
		}
		if at := n.closing(cycle, len(from)); at >= 0 {
			g.file = from[at].file
			g.fail(from[at].row, "to", from[at].to, "links that do not go round; "+names.Error())
		}
	}
	return nil
}

// naming gives activities of any project whole numbers.
type naming struct {
	ids   map[[2]string]int32
	names []string
	links []schedule.Link
}

func (n *naming) id(project, code string) int32 {
	key := [2]string{project, code}
	id, ok := n.ids[key]
	if !ok {
		id = int32(len(n.names))
		n.ids[key] = id
		n.names = append(n.names, project+" "+code)
	}
	return id
}

func (n *naming) link(project, fromProject, from, toProject, to string) {
	if fromProject == "" {
		fromProject = project
	}
	if toProject == "" {
		toProject = project
	}
	n.links = append(n.links, schedule.Link{From: n.id(fromProject, from), To: n.id(toProject, to)})
}

// closing is the last of the first sent links that lies on a cycle, -1 where none does.
func (n *naming) closing(cycle []int32, sent int) int {
	for i := sent - 1; i >= 0; i-- {
		at := slices.Index(cycle, n.links[i].From)
		if at >= 0 && cycle[(at+1)%len(cycle)] == n.links[i].To {
			return i
		}
	}
	return -1
}
