import type { SheetFull } from "../api/types";
import { remove } from "../sheet/edits";
import { FromTutor } from "../sheet/FromTutor";
import { NextTime } from "../sheet/NextTime";
import { Menu, MenuAction, MenuGroup } from "../ui/Menu";
import { t } from "../words";
import { freeLength } from "./edits";
import { ReadingPanel } from "./ReadingPanel";
import { Readings } from "./Readings";
import { againOf, whatOf } from "./useCard";
import type { CardDesk } from "./useCardScreen";

/** Beside the schematic: the reading that is taken, the next one, and those that were. */
export function CardSide({ full, desk }: { full: SheetFull; desk: CardDesk }) {
  const { sheet, report, card, gauge, byGauge, onByGauge, easel, task } = desk;
  return (
    <div className="card-side area-slips">
      <NextTime sheet={full.id} />
      <FromTutor id={full.id} sheet={sheet} assignment={full.assignment} />
      <ReadingPanel
        card={card}
        gauge={gauge}
        byGauge={byGauge}
        onByGauge={onByGauge}
        thumb={report.thumb}
        arm={easel?.arm_mm ?? null}
      />
      {task.kind === "rest" && <NextReading desk={desk} />}
      <CardList desk={desk} />
    </div>
  );
}

/** What is read next, and what else can be put on the card. */
function NextReading({ desk }: { desk: CardDesk }) {
  const { next, begin } = desk;
  return (
    <div className="card-next">
      {next ? (
        <button
          type="button"
          className="btn btn-primary big-button grow"
          onClick={() => begin(whatOf(next, false))}
          title="N"
        >
          {t("card.cardScreen.next", { words: next.words })}
        </button>
      ) : (
        <p className="font-semibold">{t("card.cardScreen.allRead")}</p>
      )}
      <AddMenu desk={desk} />
    </div>
  );
}

function AddMenu({ desk }: { desk: CardDesk }) {
  const { begin, setAsked, firstForm, secondForm } = desk;
  return (
    <Menu name={t("card.cardScreen.add")}>
      <MenuGroup name={t("card.cardScreen.toTheCard")}>
        <MenuAction value="between" onSelect={() => setAsked("between")}>
          {t("card.cardScreen.anEdgeBetween")}
        </MenuAction>
        <MenuAction
          value="rim"
          onSelect={() => begin({ kind: "rim", again: null, words: t("card.cardScreen.rimWord") })}
        >
          {t("card.cardScreen.aRim")}
        </MenuAction>
        <MenuAction
          value="length"
          onSelect={() =>
            begin({ kind: "length", slot: freeLength(firstForm), again: null, words: t("card.cardScreen.lengthWord") })
          }
        >
          {t("card.cardScreen.aLength")}
        </MenuAction>
        <MenuAction value="form" onSelect={() => secondForm("box")}>
          {t("card.cardScreen.aSecondForm")}
        </MenuAction>
        <MenuAction value="post" onSelect={() => secondForm("other")}>
          {t("card.cardScreen.aPost")}
        </MenuAction>
      </MenuGroup>
      <InLine begin={begin} />
    </Menu>
  );
}

/** What the readings say, and the readings themselves. */
function CardList({ desk }: { desk: CardDesk }) {
  const { open, sheet, report, schematic, selected, setSelected, resting, begin, words } = desk;
  return (
    <div className="card-list" data-testid="card-list">
      {!resting &&
        words.map((said) => (
          <p key={said} className="card-words" role="status">
            {said}
          </p>
        ))}
      {!resting &&
        report.notes.map((note) => (
          <p key={note} className="card-words">
            {note}
          </p>
        ))}
      <Readings
        sheet={sheet}
        report={report}
        selected={selected}
        resting={resting}
        onSelect={setSelected}
        onAgain={(id) => {
          const what = againOf(sheet, schematic, id);
          if (what) begin(what);
        }}
        onRemove={(id) => {
          open.change(remove(sheet, id));
          setSelected(null);
        }}
        onChange={open.change}
      />
    </div>
  );
}

function InLine({ begin }: Pick<CardDesk, "begin">) {
  return (
    <MenuGroup name={t("card.cardScreen.inLine")}>
      <MenuAction
        value="plumb"
        onSelect={() => begin({ kind: "alignment", along: "plumb", words: t("card.cardScreen.plumb") })}
      >
        {t("card.cardScreen.plumbTitle")}
      </MenuAction>
      <MenuAction
        value="level"
        onSelect={() => begin({ kind: "alignment", along: "level", words: t("card.cardScreen.level") })}
      >
        {t("card.cardScreen.levelTitle")}
      </MenuAction>
    </MenuGroup>
  );
}
