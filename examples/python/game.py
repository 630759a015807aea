"""A small game that plays a flow from its table of rules. What it does not know (saved games, drawn orders, spots) is an error,
not a guess."""
import operator

OPS = {"=": operator.eq, "!=": operator.ne, "<": operator.lt, "<=": operator.le, ">": operator.gt, ">=": operator.ge,
       "+": operator.add, "-": operator.sub, "*": operator.mul, "min": min, "max": max,
       "and": lambda a, b: a and b, "or": lambda a, b: a or b, "not": operator.not_, "negative": operator.neg}
USED_UP = ("pickup", "foe", "player")

class Game:
    def __init__(self, flow, rows):
        self.flow, self.rows, self.stack, self.won, self.latest, self.fired = flow, rows, [], set(), None, []
        self.variables = flow.get("variables", {})
        self.values = {name: each["initial"] for name, each in self.variables.items()}
        self.go(flow["start"])
        self.settle()

    def state(self):
        """What vectors compare: the place, the values, how many are left of the level's pieces, and the rules that fired."""
        return {"in": self.stack[-1]["place"], "values": self.values, "left": self.stack[0]["left"], "rules": self.fired}

    def rules(self):
        return [row for row in self.rows if row["place"] == self.stack[-1]["place"]]

    def do(self, event):
        self.fired, top = [], self.stack[-1]
        kind, what = next(iter(event.items()))
        if kind in ("collect", "defeat"): self.stack[0]["left"][what] -= 1
        if kind == "time":
            top["phase"] += 1
            kind, what = "after", sorted({row["when"]["after"] for row in self.rules() if "after" in row["when"]})[top["phase"] - 1]
        self.hear(kind, what, event.get("side"))
        self.settle()

    def hear(self, kind, what, side=None):
        raised = []
        for row in self.rules():
            if row["when"].get(kind) == what and row["when"].get("side", side) == side and self.asks(row):
                if self.fire(row, raised): return True
        return any(self.hear("hear", signal) for signal in raised)

    def settle(self):
        fired = True
        while fired:
            fired = False
            for row in [row for row in self.rules() if "holds" in row["when"]]:
                held, holds = self.stack[-1]["held"], self.value(row["trees"]["holds"]) and self.asks(row)
                new = holds and row["rule"] not in held
                (held.add if holds else held.discard)(row["rule"])
                if not new: continue
                fired, raised = True, []
                if self.fire(row, raised) or any(self.hear("hear", signal) for signal in raised): break

    def asks(self, row):
        return self.value(row.get("trees", {}).get("if", True))

    def fire(self, row, raised):
        """Does what a rule does; true where it has led to another place."""
        self.fired.append(row["rule"])
        effects = row.get("do", [])
        for effect, tree in zip(effects, row.get("trees", {}).get("do") or [None] * len(effects)):
            kind, what = next((key, value) for key, value in effect.items() if key not in ("at", "to", "by"))
            if kind == "set": self.assign(what, self.value(tree))
            elif kind == "reset": self.assign(what, self.variables[what]["initial"])
            elif kind == "begin": self.values.update({n: v["initial"] for n, v in self.variables.items() if v["scope"] == "run"})
            elif kind == "raise": raised.append(what)
            else: raise NotImplementedError(f"rule {row['rule']}: the effect {kind}")
        return "go" in row and self.move(row["go"], row.get("result"))

    def assign(self, name, value):
        known = self.variables[name]
        self.values[name] = max(known["min"], min(known["max"], value)) if known["type"] == "number" else value

    def move(self, target, result):
        if target.get("move") == "back": return len(self.stack) > 1 and bool(self.stack.pop())
        to = target.get("place") or self.along(target)
        if to is None: return "else" in target and self.move(target["else"], result)
        if result == "won": self.won.add(self.stack[0]["place"])
        self.go(to, over=target.get("over", False))
        return True

    def along(self, target):
        orders, move = self.flow.get("orders", {}), target["move"]
        if move == "again": return self.latest
        levels = orders[target.get("order") or next(iter(orders))]["levels"]
        at = {"first": 0, "last": len(levels) - 1}.get(move)
        if at is None: at = (levels.index(self.latest) if self.latest in levels else -1) + {"next": 1, "previous": -1}[move]
        return levels[at] if 0 <= at < len(levels) else None

    def go(self, place, over=False):
        known = self.flow["places"][place]
        if not over: self.stack = []
        left = {name: each.get("count", 1) for name, each in known.get("pieces", {}).items() if each["kind"] in USED_UP}
        self.stack.append({"place": place, "phase": 0, "held": set(), "left": left})
        if known["kind"] == "level":
            self.latest = place
            self.values.update({n: v["initial"] for n, v in self.variables.items() if v["scope"] == "attempt"})
        self.hear("arrive", True)

    def value(self, tree):
        if not isinstance(tree, list): return tree
        head, *parts = tree
        if head == "value": return self.values[parts[0]]
        if head == "left": return self.stack[0]["left"][parts[0]]
        if head == "taken":
            return self.flow["places"][self.stack[0]["place"]]["pieces"][parts[0]].get("count", 1) - self.value(["left", parts[0]])
        if head == "won": return parts[0] in self.won
        if head not in OPS: raise NotImplementedError(f"a condition with {head}")
        return OPS[head](*map(self.value, parts))
