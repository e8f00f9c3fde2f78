<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Times;
use Geschenk\Core\Messenger\MentionRange;
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\PropertyList;
use Geschenk\Core\Messenger\Since2001;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;

/**
 * The property lists on a slip: ZEXTRAS with nods, marks, mentions, the notice and what the slip holds besides text,
 * ZANSWER with a copy of the answered slip.
 */
final class Extras
{
    /** One of these at most makes the content; cards come before them. */
    private const CONTENTS = ['place', 'ballot', 'ring', 'link', 'offer', 'withdrawn'];
    /** Nods and marks whose words need no escape in XML or JSON: see plainJson(). */
    private const PLAIN_HEAD = '<?xml version="1.0" encoding="UTF-8"?>'."\n".'<plist version="1.0"><dict>';
    private const PLAIN_END = '</dict></plist>';
    private const NODS = '<key>nods</key><array>';
    private const MARKS = '<key>marks</key><array>';
    private const WORD = '[^<&"\\\\\x00-\x1F\x7F]';
    private const TIME = '(-?[0-9.e+]{1,24})';
    private const NOD = '~\G<dict>(?:<key>who</key><string>('.self::WORD.'+)</string>)?<key>sign</key><string>('
        .self::WORD.'*)</string>(?:<key>given</key><real>'.self::TIME.'</real>)?</dict>~u';
    private const MARK = '~\G<dict><key>who</key><string>('.self::WORD.'+)</string>(?:<key>handed</key><real>'
        .self::TIME.'</real>)?(?:<key>read</key><real>'.self::TIME.'</real>)?</dict>~u';

    /** @var array<string, string> pieces of a list, by person key */
    private static array $who = [];
    /** @var array<string, string> JSON of a person's key, by handle */
    private static array $quoted = [];

    /** @var list<Reaction> */
    public array $reactions = [];
    /** @var list<Receipt> */
    public array $receipts = [];
    /** @var list<Mention> */
    public array $mentions = [];
    public ?Notice $notice = null;
    public ?Content $content = null;
    /** @var array<string, scalar> what this generation has no word for, by subject */
    public array $unknown = [];
    /** @var array<string, string> what is of no use where it stands, by subject */
    public array $unreadable = [];

    private function __construct()
    {
    }

    /**
     * @param string|null $text of the slip, which mentions point into
     *
     * @throws \UnexpectedValueException when it is no property list
     */
    public static function read(?string $xml, ?string $text): self
    {
        $extras = new self();
        if (null === $xml) {
            return $extras;
        }
        $list = new Part(PropertyList::read($xml, $extras->unreadable), '', $extras->unreadable);
        foreach ($list->parts('nods') as $nod) {
            $extras->reactions[] = new Reaction($nod->person('who'), $nod->string('sign') ?? '', $nod->time('given'));
            $extras->keep($nod);
        }
        foreach ($list->parts('marks') as $mark) {
            $extras->receipts[] = new Receipt(
                $mark->person('who') ?? '', $mark->time('handed'), $mark->time('read'), null,
            );
            $extras->keep($mark);
        }
        foreach ($list->parts('mentions') as $place => $mention) {
            $extras->mention($place, $mention, $text ?? '');
            $extras->keep($mention);
        }
        $told = $list->part('notice');
        if (null !== $told) {
            $sort = $told->string('sort') ?? '';
            $kind = Codes::NOTICE_SORTS[$sort] ?? NoticeKind::Unknown;
            if (NoticeKind::Unknown === $kind && Codes::FOREIGN_NOTICE !== $sort) {
                $extras->unknown['notice.sort'] = $sort;
            }
            $extras->notice = new Notice($kind, $told->person('actor'), $told->person('target'), $told->string('text'));
            $extras->keep($told);
        }
        $extras->content($list);
        foreach ($list->rest() as $key => $value) {
            $extras->unknown['extras.'.$key] = $value;
        }

        return $extras;
    }

    /** Keeps what a part has beside what was asked of it. */
    private function keep(Part $part): void
    {
        foreach ($part->rest() as $subject => $value) {
            $this->unknown['extras.'.$subject] = $value;
        }
    }

    /**
     * @param array<string, scalar|null> $opaque
     */
    public static function write(Message $message, array $opaque): ?string
    {
        $inner = self::nodsAndMarks(
            MessageRow::reactionsJson($message->reactions), MessageRow::receiptsJson($message->receipts),
        );
        if ([] !== $message->mentions || null !== $message->notice || null !== $message->content || [] !== $opaque) {
            $inner .= PropertyList::pairs(self::rest($message, $opaque));
        }

        return '' === $inner ? null : PropertyList::dictionary($inner);
    }

    /**
     * Nods and marks alone, as JSON of the chat store, from a list as write() makes it: there is one on every second
     * message, and nearly none holds anything else. The same as read() and MessageRow would give.
     *
     * @return array{string|null, string|null}|null reactions and receipts; null when the list is not of that kind
     */
    public static function plainJson(string $xml): ?array
    {
        $head = strlen(self::PLAIN_HEAD);
        if (!str_starts_with($xml, self::PLAIN_HEAD) || !str_ends_with($xml, self::PLAIN_END)) {
            return null;
        }
        $at = $head;
        $reactions = $receipts = null;
        if (str_starts_with(substr($xml, $at, 30), self::NODS)) {
            $end = strpos($xml, '</array>', $at);
            $inner = substr($xml, $at + strlen(self::NODS), (int) $end - $at - strlen(self::NODS));
            $reactions = self::entries(self::NOD, $inner, true);
            $at = (int) $end + 8;
        }
        if (str_starts_with(substr($xml, $at, 30), self::MARKS)) {
            $end = strpos($xml, '</array>', $at);
            $inner = substr($xml, $at + strlen(self::MARKS), (int) $end - $at - strlen(self::MARKS));
            $receipts = self::entries(self::MARK, $inner, false);
            $at = (int) $end + 8;
            if (null === $receipts) {
                return null;
            }
        }
        if ($at !== strlen($xml) - strlen(self::PLAIN_END) || (null === $reactions && null === $receipts)
            || (null === $reactions && str_contains($xml, self::NODS))) {
            return null;
        }

        return [$reactions, $receipts];
    }

    /** @return string|null JSON; null when something in the list is not plain */
    private static function entries(string $pattern, string $inner, bool $areNods): ?string
    {
        if (false === preg_match_all($pattern, $inner, $entries, \PREG_SET_ORDER)) {
            return null;
        }
        $list = [];
        $length = 0;
        foreach ($entries as $entry) {
            $length += strlen($entry[0]);
            $who = self::$quoted[$entry[1]] ?? self::quoted($entry[1]);
            $third = '' === ($entry[3] ?? '') ? null : Since2001::toMilliseconds((float) $entry[3]);
            $second = $areNods || '' === ($entry[2] ?? '') ? null : Since2001::toMilliseconds((float) $entry[2]);
            if (!Times::areNear($second, $third)) {
                return null;
            }
            $list[] = $areNods
                ? '['.$who.',"'.($entry[2] ?? '').'",'.($third ?? 'null').']'
                : '['.$who.','.($second ?? 'null').','.($third ?? 'null').',null]';
        }
        if ($length !== strlen($inner) || [] === $list) {
            return null;
        }
        if (isset($list[1])) {
            sort($list, \SORT_STRING);
        }
        $json = '['.implode(',', $list).']';

        return str_contains($json, 'base64:') ? null : $json;
    }

    /** A person's key as JSON, of a handle that needs no escape. */
    private static function quoted(string $handle): string
    {
        if (count(self::$quoted) > 20_000) {
            self::$quoted = [];
        }
        $key = str_ends_with($handle, Handle::IOS_SUFFIX) ? substr($handle, 0, -strlen(Handle::IOS_SUFFIX)) : $handle;

        return self::$quoted[$handle] = '' === $handle ? 'null' : '"'.$key.'"';
    }

    /** @return array{wireId: string|null, quote: Quote|null, unreadable: array<string, string>} */
    public static function answer(?string $xml): array
    {
        $unreadable = [];
        if (null === $xml) {
            return ['wireId' => null, 'quote' => null, 'unreadable' => []];
        }
        $list = new Part(PropertyList::read($xml, $unreadable), '', $unreadable);
        $wireId = $list->string('wireId');
        $sort = $list->whole('sort');
        $quote = null;
        if (null !== $sort) {
            $quote = new Quote(
                $list->person('who'), $list->flag('mine'), Codes::SLIP_SORTS[$sort] ?? Kind::Unknown,
                $list->string('body'), $list->time('sent'),
            );
        }
        foreach ($list->rest() as $subject => $value) {
            $unreadable[$subject] = Part::words($value);
        }

        return ['wireId' => $wireId, 'quote' => $quote, 'unreadable' => $unreadable];
    }

    /** @param Quote|null $quote what is known of the answered slip */
    public static function writeAnswer(string $wireId, ?Quote $quote): string
    {
        $inner = '<key>wireId</key>'.PropertyList::text($wireId);
        if (null !== $quote) {
            $inner .= self::who($quote->senderKey)
                .($quote->fromOwner ? '<key>mine</key><true/>' : '<key>mine</key><false/>').'<key>sort</key><integer>'
                    .Codes::code(Codes::SLIP_SORTS, $quote->kind).'</integer>'
                .self::moment(
                    'sent', $quote->sentAt,
                ).(null === $quote->text ? '' : '<key>body</key>'.PropertyList::text($quote->text));
        }

        return PropertyList::dictionary($inner);
    }

    /**
     * Nods and marks as a chat store has them, straight into a list.
     *
     * @param string|null $reactions JSON
     * @param string|null $receipts  JSON
     */
    public static function writePlain(?string $reactions, ?string $receipts): string
    {
        return PropertyList::dictionary(self::nodsAndMarks($reactions, $receipts));
    }

    /** Runs for every third message: one concatenation an entry, and no call that is not needed. */
    private static function nodsAndMarks(?string $reactions, ?string $receipts): string
    {
        $inner = '';
        if (null !== $reactions) {
            $inner .= '<key>nods</key><array>';
            /** @var array{string|null, string, int|null} $r */
            foreach (SafeJson::decode($reactions) as $r) {
                $inner .= '<dict>'.self::who($r[0]).self::sign($r[1])
                    .(null === $r[2] ? '' : '<key>given</key><real>'.Since2001::toDecimal($r[2]).'</real>').'</dict>';
            }
            $inner .= '</array>';
        }
        if (null !== $receipts) {
            $inner .= '<key>marks</key><array>';
            /** @var array{string, int|null, int|null} $r */
            foreach (SafeJson::decode($receipts) as $r) {
                $inner .= '<dict>'.(self::$who[$r[0]] ?? self::who($r[0]))
                    .(null === $r[1] ? '' : '<key>handed</key><real>'.Since2001::toDecimal($r[1]).'</real>')
                    .(null === $r[2] ? '' : '<key>read</key><real>'.Since2001::toDecimal($r[2]).'</real>').'</dict>';
            }
            $inner .= '</array>';
        }

        return $inner;
    }

    /**
     * The less usual parts.
     *
     * @param array<string, scalar|null> $opaque
     *
     * @return array<string, mixed>
     */
    private static function rest(Message $message, array $opaque): array
    {
        $list = [];
        foreach ($message->mentions as $mention) {
            $units = MentionRange::toUnits(
                $message->text ?? '', $mention->start, $mention->length,
            ) ?? throw new \LogicException('A reader let a mention pass that does not fit its text.');
            $list['mentions'][] = ['who' => self::handle($mention->personKey), 'at' => $units[0], 'units' => $units[1]];
        }
        if (null !== $message->notice) {
            $own = $opaque[IosFormat::DETAIL_PREFIX.'notice.sort'] ?? null;
            $list['notice'] = [
                'sort' => is_string($own)
                    ? $own
                    : Codes::noticeCode($message->notice->kind), 'actor' => self::handle($message->notice->actorKey),
                'target' => self::handle($message->notice->targetKey), 'text' => $message->notice->text,
            ];
        }
        $content = $message->content;
        $own = $opaque[IosFormat::DETAIL_PREFIX.'ring.outcome'] ?? null;

        return $list + match (true) {
            null === $content => [],
            $content instanceof Place => [
                'place' => [
                    'north' => $content->latitude, 'east' => $content->longitude, 'name' => $content->name,
                    'address' => $content->address, 'liveUntil' => Since2001::toSeconds($content->liveUntil),
                ],
            ],
            $content instanceof ContactCards => ['cards' => $content->cards],
            $content instanceof Poll => [
                'ballot' => [
                    'several' => $content->several, 'closed' => Since2001::toSeconds($content->closedAt),
                    'answers' => array_map(static fn (array $answer): array => [
                        'text' => $answer['text'],
                        'votes' => array_map(
                            static fn (array $vote): array => [
                                'who' => self::handle($vote['who']), 'given' => Since2001::toSeconds($vote['at']),
                            ],
                            $answer['votes'],
                        ),
                    ], $content->answers),
                ],
            ],
            $content instanceof Call => [
                'ring' => [
                    'film' => $content->video,
                    'outcome' => is_string($own) ? $own : Codes::callOutcome($content->outcome),
                    'span' => null === $content->durationMs ? null : $content->durationMs / 1000.0,
                ],
            ],
            $content instanceof LinkPreview => [
                'link' => ['url' => $content->url, 'title' => $content->title, 'summary' => $content->description],
            ],
            $content instanceof CatalogueItem => [
                'offer' => [
                    'article' => $content->article, 'name' => $content->name, 'priceMinor' => $content->priceMinor,
                    'currency' => $content->currency,
                ],
            ],
            $content instanceof Deletion => [
                'withdrawn' => [
                    'who' => self::handle($content->byKey), 'at' => Since2001::toSeconds($content->deletedAt),
                ],
            ],
            default => throw new \LogicException('Otterpost has no place for '.$content->sort()),
        };
    }

    private function mention(int $place, Part $mention, string $text): void
    {
        $who = $mention->person('who') ?? '';
        [$at, $units] = [$mention->whole('at') ?? -1, $mention->whole('units') ?? 0];
        $bytes = MentionRange::toBytes($text, $at, $units);
        if (null === $bytes) {
            $this->unknown['mention.'.$place] = sprintf('%s %d+%d', $who, $at, $units);

            return;
        }
        $this->mentions[] = new Mention($who, $bytes[0], $bytes[1]);
    }

    private function content(Part $list): void
    {
        $cards = $list->parts('cards');
        foreach (self::CONTENTS as $key) {
            // What is left of two contents is carried along as it is.
            $part = null === $this->content && [] === $cards ? $list->part($key) : null;
            if (null === $part) {
                continue;
            }
            $this->content = match ($key) {
                'place' => new Place(
                    $part->real('north') ?? 0.0, $part->real('east') ?? 0.0, $part->string('name'),
                    $part->string('address'), $part->time('liveUntil'),
                ),
                'ballot' => new Poll(
                    $part->flag('several'), $part->time('closed'),
                    array_map($this->answerOfPoll(...), $part->parts('answers')),
                ),
                'ring' => $this->call($part),
                'link' => new LinkPreview($part->string('url') ?? '', $part->string('title'), $part->string('summary')),
                'offer' => new CatalogueItem(
                    $part->string('article') ?? '', $part->string('name') ?? '', $part->whole('priceMinor'),
                    $part->string('currency'),
                ),
                'withdrawn' => new Deletion($part->person('who'), $part->time('at')),
            };
            $this->keep($part);
        }
        if ([] !== $cards) {
            $this->content = new ContactCards(array_map(function (Part $card): array {
                $read = ['name' => $card->string('name'), 'vcard' => $card->string('vcard') ?? ''];
                $this->keep($card);

                return $read;
            }, $cards));
        }
    }

    /** @return array{text: string, votes: list<array{who: string|null, at: int|null}>} */
    private function answerOfPoll(Part $answer): array
    {
        $votes = [];
        foreach ($answer->parts('votes') as $vote) {
            $votes[] = ['who' => $vote->person('who'), 'at' => $vote->time('given')];
            $this->keep($vote);
        }
        $read = ['text' => $answer->string('text') ?? '', 'votes' => $votes];
        $this->keep($answer);

        return $read;
    }

    private function call(Part $part): Call
    {
        $code = $part->string('outcome') ?? '';
        $outcome = Codes::CALL_OUTCOMES[$code] ?? CallOutcome::Unknown;
        if (CallOutcome::Unknown === $outcome && Codes::FOREIGN_NOTICE !== $code) {
            $this->unknown['ring.outcome'] = $code;
        }

        return new Call($part->flag('film'), $outcome, $part->length('span'));
    }

    private static function who(?string $key): string
    {
        if (null === $key) {
            return '';
        }
        if (count(self::$who) > 20_000) {
            self::$who = [];
        }

        return self::$who[$key] ??= '<key>who</key>'.PropertyList::text((string) self::handle($key));
    }

    private static function sign(string $sign): string
    {
        /** @var array<string, string> $known */
        static $known = [];
        if (count($known) > 20_000) {
            $known = [];
        }

        return $known[$sign] ??= '<key>sign</key>'.PropertyList::text($sign);
    }

    private static function moment(string $key, ?int $milliseconds): string
    {
        return null === $milliseconds ? '' : '<key>'.$key.'</key><real>'.Since2001::toDecimal($milliseconds).'</real>';
    }

    private static function handle(?string $key): ?string
    {
        return null === $key ? null : Handle::fromKey($key, Handle::IOS_SUFFIX);
    }
}
