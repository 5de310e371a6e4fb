def sub(f,*prs):
    t=open(f).read()
    for a,b in prs:
        if a not in t: print("MISSING",f,a[:70])
        t=t.replace(a,b)
    open(f,"w").write(t)
R="test/reference/"
sub(R+"dataSide.test.ts",("The link “byTown” is gone","The link “byTown” does not exist any more"),("The link “yards – town” is gone","The link “yards – town” does not exist any more"),("names “name_of”","uses “name_of”"),("“a lot” is no decimal","“a lot” is not a decimal"))
sub(R+"exact.test.ts",("larger than 18 digits","more than 18 digits"))
sub(R+"files.test.ts",("larger than 18 digits","more than 18 digits"),("longer than the time allowed","longer than the time limit"),("engine cannot start","engine could not start"))
sub(R+"import.test.ts",("bytes that are no text","not a text file"),('"no text"','"not a text file"'),("an old kind","an old workbook format"),('"no rows"','"not rows"'),('"not whole JSON"','"not valid JSON"'),('"lists in lists"','"nested too deeply"'),("/cut off in the middle/","/not a complete workbook/"))
sub(R+"postings.test.ts",("is no date","is not a date"),("“a lot” is no decimal","“a lot” is not a decimal"))
sub(R+"schedules.test.ts",("1 of 3 times","attempt 1 of 3"))
sub(R+"showing.test.ts",("did not take the message","refused the message"),("gone or barred","blocked or deleted"))
