SET DECIMAL=DOT.
DATA LIST LIST (",") FILE="in.csv" SKIP=1 /id (F8.0) valley (A40) keeps (F1.0) agree (F1.0) weight (F8.3) note (A300) code (A2).
IF (id NE 3) since = DATE.DMY(1, 5, 2010 + id).
IF (id NE 3) moment = DATE.DMY(20, 9, 2025) + TIME.HMS(12, 30, id).
FORMATS since (SDATE10) moment (DATETIME20).
VARIABLE LABELS keeps "How bees are kept" /agree "Is the survey worth the work?" /weight "Weight of the hive (kg)" /valley "Valley".
VALUE LABELS keeps 1 "as a hobby" 2 "on the side" 3 "für das Leben" /agree 1 "fully" 2 "partly" 3 "no" 9 "no answer" /code "A" "Amber" "D" "Dusk".
MISSING VALUES agree (9) /weight (LOWEST THRU -1) /code ("X").
RENAME VARIABLES (agree = worth_the_work_really).
SAVE OUTFILE="a.sav" /UNCOMPRESSED.
SAVE OUTFILE="b.sav" /COMPRESSED.
SAVE OUTFILE="c.zsav" /ZCOMPRESSED.
