"""The made-up resort Skarrow Fell and its history, loaded through the same doors as real data.

Everything here is invented. It never imports the rate or judgement code: what the program finds in
the demo it has to find from figures alone.
"""
