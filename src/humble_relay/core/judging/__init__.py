"""How a case is judged: checks and answers, what must be asked, findings, proofs and facts wanted; no subject's own."""
