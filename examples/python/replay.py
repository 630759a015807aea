"""Holds a game against the vectors of a flow: does what they do, and compares what the game then is with what they say.

    crow-lane convert flow.crow.json --to rules > rules.jsonl
    crow-lane check flow.crow.json --format vectors > vectors.jsonl
    python3 replay.py flow.crow.json rules.jsonl vectors.jsonl

Put a game of your own in place of `Game`: it needs `do(event)`, and `state()` with the keys that are to be compared."""
import json
import sys

from game import Game


def replay(game, vector):
    """The first step after which the game is not as expected, in words; nothing where all are."""
    for number, step in enumerate(vector["steps"]):
        if "start" not in step["do"]:
            game.do(step["do"])
        for key, now in game.state().items():
            expected = step.get(key, {})
            if now != expected:
                return [f"{vector['vector']}, step {number} {json.dumps(step['do'])}: {key} is {now}, expected {expected}"]
    return []


def lines(name):
    with open(name, encoding="utf-8") as file:
        return [json.loads(line) for line in file]


if __name__ == "__main__":
    with open(sys.argv[1], encoding="utf-8") as file:
        flow = json.load(file)
    rules, vectors = lines(sys.argv[2]), lines(sys.argv[3])
    wrong = [line for vector in vectors for line in replay(Game(flow, rules), vector)]
    print("\n".join(wrong) or f"{len(vectors)} vectors, {sum(len(each['steps']) for each in vectors)} steps: all as expected")
    sys.exit(1 if wrong else 0)
