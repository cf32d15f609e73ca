"""The rules of the job in ten rooms on seven floors; an arrow goes down only. No interface code.

    bench                    in which order, with what, at what cost?
    rounds     play          what did a reading teach? · what will the player feel?
    solving                  what is the best plan, and is it proven?
    laying                   how does a hand change a plan?
    weight     reading       what is laid, what does it do? · can a reading be trusted?
    frame      body          where is what on it? · what is it to a physicist?
    quantities               what is a number here?

Each room's ``__init__`` tells what is in it and what it may import.
"""
