package page

import (
	"strconv"
	"strings"

	"turret/internal/app/assess"
	"turret/internal/app/lookout"
	"turret/internal/app/trace"
	"turret/internal/core/measure"
	"turret/internal/core/write"
)

// traceView is the margin when it explains a figure.
type traceView struct {
	Subject, Name, Value, Rule, Note, AsOf string
	Nodes                                  []nodeView
	CloseHref, UpHref, Href                string
}

// nodeView is one step of a trace. Rows beyond the first few wait behind More.
type nodeView struct {
	Label, Value, Rule, Detail, Where, Href string
	Nodes                                   []nodeView
	Open                                    bool
	More, MoreHref                          string
}

// Rows of one group shown at once within a trace, and when the group is opened by itself.
const (
	fewRows  = 12
	manyRows = 2000
)

// tracer makes views of nodes; each node's path of indexes is its address within the trace.
type tracer struct {
	r    *Request
	t    *trace.Trace
	here func(at string) string
	rows int
}

// GroupTrace fills in the margin of a screen about a scope where its address asks for it.
func (r *Request) GroupTrace(p *Page, l *lookout.Lookout) error {
	key := r.Asked.Get("trace")
	if key == "" {
		return nil
	}
	s := &assess.Scope{Code: l.Scope.Code, Name: l.Scope.Name, Projects: l.Open, Nodes: l.Scope.Nodes}
	if r.Asked.Get("of") == "shown" {
		s.Name, s.Projects = "Projects shown", l.Shown
	}
	t, err := r.Server.Office.Trace.TraceGroup(r.Ctx.Context(), r.Figures, s, key)
	if err != nil {
		return err
	}
	return showTrace(r, p, t)
}

// ProjectTrace fills the margin with where a figure of a project comes from, as the address asks.
func (r *Request) ProjectTrace(p *Page, code string) error {
	key := r.Asked.Get("trace")
	if key == "" {
		return nil
	}
	var t *trace.Trace
	var err error
	switch costCode := r.Asked.Get("code"); {
	case costCode != "":
		t, err = r.Server.Office.Trace.TraceCode(r.Ctx.Context(), r.Figures, code, key, costCode)
	case r.Asked.Get("account") != "":
		activity := strings.TrimPrefix(r.Asked.Get("account"), ":")
		t, err = r.Server.Office.Trace.TraceAccount(r.Ctx.Context(), r.Figures, code, key, activity)
	case r.Asked.Get("milestone") != "":
		t, err = r.Server.Office.Trace.TraceActivity(r.Ctx.Context(), r.Figures, code, r.Asked.Get("milestone"))
	default:
		t, err = r.Server.Office.Trace.Trace(r.Ctx.Context(), r.Figures, code, key)
	}
	if err != nil {
		return err
	}
	return showTrace(r, p, t)
}

// Explain shows an explanation that was made elsewhere, of a figure of a project.
func Explain(r *Request, p *Page, of *measure.Project, root measure.Node) error {
	t, err := r.Server.Office.Trace.Of(r.Context(), r.Figures, of, root)
	if err != nil {
		return err
	}
	return showTrace(r, p, t)
}

func showTrace(r *Request, p *Page, t *trace.Trace) error {
	tr := &tracer{r: r, t: t, rows: fewRows, here: func(at string) string { return r.Here("at", at) }}
	root, at := &t.Root, r.Asked.Get("at")
	for _, step := range strings.FieldsFunc(at, func(c rune) bool { return c == '.' }) {
		i, err := strconv.Atoi(step)
		if err != nil || i < 0 || i >= len(root.Children) {
			root, at = &t.Root, ""
			break
		}
		root = &root.Children[i]
	}
	v := &traceView{Subject: t.Subject, Name: root.Label, Rule: root.Rule, Note: root.Value.Note, AsOf: r.AsOf.Human(),
		Value: root.Value.Human(root.Unit, r.Figures.Env.Currency), CloseHref: p.CloseHref}
	if !root.Value.Known {
		v.Note = root.Value.Reason
	}
	if at != "" {
		v.UpHref, tr.rows = r.Here("at", ""), manyRows
	}
	v.Nodes = tr.children(root, at, 0)
	if t.Project != nil && t.Root.Key != "" && r.Asked.Get("code") == "" && r.Asked.Get("account") == "" {
		v.Href = r.Project(t.Project.Code, "trace", t.Root.Key)
	}
	p.Trace = v
	return nil
}

func (tr *tracer) children(n *measure.Node, at string, depth int) []nodeView {
	var list []nodeView
	for i := range n.Children {
		path := strconv.Itoa(i)
		if at != "" {
			path = at + "." + path
		}
		list = append(list, tr.node(&n.Children[i], path, depth))
	}
	if depth == 0 && len(list) == 1 {
		list[0].Open = true // nothing else to choose from
	}
	return list
}

func (tr *tracer) node(n *measure.Node, at string, depth int) nodeView {
	v := nodeView{Label: n.Label, Rule: n.Rule, Detail: n.Detail, Where: tr.t.Where(n.Ref), Open: depth == 0 && len(n.Children) <= 8}
	v.Detail = write.Joined("; ", v.Detail, n.Value.Note)
	switch {
	case n.Value.Known:
		v.Value = n.Value.Human(n.Unit, tr.r.Figures.Env.Currency)
	case n.Detail == "" && n.Ref.Load == 0:
		v.Value, v.Detail = "–", n.Value.Reason
	}
	if n.Project != "" {
		v.Href = tr.r.Project(n.Project, "trace", n.Key)
	}
	if len(n.Children) <= tr.rows {
		v.Nodes = tr.children(n, at, depth+1)
		return v
	}
	short := *n
	short.Children = n.Children[:tr.rows]
	v.Nodes = tr.children(&short, at, depth+1)
	v.More = write.Count(len(n.Children)-tr.rows, "more row", "more rows")
	v.MoreHref = tr.here(at)
	if tr.rows == manyRows {
		v.MoreHref = ""
	}
	return v
}
