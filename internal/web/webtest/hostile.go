package webtest

import (
	"strings"

	"turret/internal/record"
)

// Hostile is a small portfolio whose texts try to be markup, formulas and addresses.
var Hostile = map[record.Kind]string{
	record.Structure: "code,name,level,parent\nPF,<i>PF,portfolio,\n\"A&B\",\"\"\"><script>x()</script>\",programme,PF\n",
	record.CostCodes: "code,name\nC,<script>c()</script>\n",
	record.Projects: "code,name,parent,lead\n\"../x?a=1&b#2\",<script>alert(1)</script>,A&B,\"' " +
		"onload=x\"\nP,\"=HYPERLINK(\"\"http://x\"\")\",A&B,L\n" +
		"Q,\"Nothing, sent\",PF,\n",
	record.Activities: "project,code,name,kind,baseline_start,baseline_finish,finish\nP,1,<script>w()</script>," +
		"activity,2026-01-05,2026-06-30,2026-12-18\n" +
		"P,2,<script>m()</script>,milestone,,2026-06-30,2026-12-18\n",
	record.Budget: "project,cost_code,amount,month,cost_centre,change,note,currency\nP,C,1000,2026-09,,,,\nP,C," +
		"99999999999.99,2119-12,<script>alert(2)</script>,<script>c1()</script>,=1+1,\n" +
		"P,C,5,1980-01,,,,\n",
	record.Forecast: "project,cost_code,amount,month,cost_centre,note\nP,C,400,2026-11,<script>alert(3)</script>," +
		"<script>s2()</script>\n",
	record.Commitments: "project,cost_code,document,amount,supplier,due\nP,C,<script>d1()</script>,10,<script>" +
		"s3()</script>,2119-12-31\n",
	record.Changes: "project,change,title,state,amount,reason,requested_by,answer\nP,\"\"\"><script>c2()</script>\"," +
		"<script>alert(4)</script>,requested,5,<script>w2()</script>,' onload=x,<script>d2()</script>\n" +
		"P,<script>c1()</script>,t,approved,,,,\n",
	record.Funding: "project,funder,percent,received\nP,<script>alert(5)</script>,100,7\n",
	record.Revenue: "project,code,name,month,planned,billed,client\nP,R,<script>alert(6)</script>,2026-12,100,," +
		"<script>c3()</script>\nP,R,x,2026-09,100,200,\n",
	record.People:      "code,name,role\n<script>p()</script>,<script>alert(7)</script>,<script>r()</script>\n",
	record.Timesheets:  "person,project,date,hours\n<script>p()</script>,P,2026-09-01,8\n",
	record.Allocations: "node,year,amount,note\nPF,2026,5,<script>alert(8)</script>\n",
	record.Actuals:     "project,cost_code,date,amount,document\n" + strings.Repeat("P,C,2026-09-01,10,<script>d()</script>\n", 90),
	record.Statuses:    "project,overall,commentary\nP,on track,<script>s()</script>\n",
}
