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
use Geschenk\Core\Messenger\Otterpost\Handle;
use Geschenk\Core\Messenger\Otterpost\MentionRange;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\SafeJson;

/**
 * The property lists on a slip: ZEXTRAS with nods, marks, mentions, the notice and what the slip holds besides text,
 * ZANSWER with a copy of the answered slip.
 */
final class Extras
{
    private const KNOWN = ['nods' => 1, 'marks' => 1, 'mentions' => 1, 'notice' => 1, 'place' => 1, 'cards' => 1, 'ballot' => 1, 'ring' => 1, 'link' => 1, 'offer' => 1, 'withdrawn' => 1];
    /** Nods and marks whose words need no escape in XML or JSON: see plainJson(). */
    private const PLAIN_HEAD = '<?xml version="1.0" encoding="UTF-8"?>'."\n".'<plist version="1.0"><dict>';
    private const PLAIN_END = '</dict></plist>';
    private const NODS = '<key>nods</key><array>';
    private const MARKS = '<key>marks</key><array>';
    private const WORD = '[^<&"\\\\\x00-\x1F\x7F]';
    private const TIME = '(-?[0-9.e+]{1,24})';
    private const NOD = '~\G<dict>(?:<key>who</key><string>('.self::WORD.'+)</string>)?<key>sign</key><string>('.self::WORD.'*)</string>(?:<key>given</key><real>'.self::TIME.'</real>)?</dict>~u';
    private const MARK = '~\G<dict><key>who</key><string>('.self::WORD.'+)</string>(?:<key>handed</key><real>'.self::TIME.'</real>)?(?:<key>read</key><real>'.self::TIME.'</real>)?</dict>~u';

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
    /** @var array<string, string> what this generation has no word for, by subject, and by the finding it makes */
    public array $unknown = [];

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
        $list = PropertyList::read($xml);
        foreach (self::dictionaries($list['nods'] ?? null) as $nod) {
            $extras->reactions[] = new Reaction(self::person($nod, 'who'), self::string($nod, 'sign') ?? '', self::time($nod, 'given'));
        }
        foreach (self::dictionaries($list['marks'] ?? null) as $mark) {
            $extras->receipts[] = new Receipt(self::person($mark, 'who') ?? '', self::time($mark, 'handed'), self::time($mark, 'read'), null);
        }
        foreach (self::dictionaries($list['mentions'] ?? null) as $place => $mention) {
            $extras->mention($place, $mention, $text ?? '');
        }
        foreach (self::dictionaries([$list['notice'] ?? null]) as $told) {
            $sort = self::string($told, 'sort') ?? '';
            $kind = Codes::NOTICE_SORTS[$sort] ?? NoticeKind::Unknown;
            if (NoticeKind::Unknown === $kind && Codes::FOREIGN_NOTICE !== $sort) {
                $extras->unknown['notice.sort'] = $sort;
            }
            $extras->notice = new Notice($kind, self::person($told, 'actor'), self::person($told, 'target'), self::string($told, 'text'));
        }
        $extras->content($list);
        foreach (array_diff_key($list, self::KNOWN) as $key => $value) {
            $extras->unknown['extras.'.$key] = is_scalar($value) ? (string) $value : (string) json_encode($value, \JSON_INVALID_UTF8_SUBSTITUTE);
        }

        return $extras;
    }

    /**
     * @param array<string, scalar|null> $opaque
     */
    public static function write(Message $message, array $opaque): ?string
    {
        $inner = self::nodsAndMarks(MessageRow::reactionsJson($message->reactions), MessageRow::receiptsJson($message->receipts));
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
        if ($at !== strlen($xml) - strlen(self::PLAIN_END) || (null === $reactions && null === $receipts) || (null === $reactions && str_contains($xml, self::NODS))) {
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
            $third = '' === ($entry[3] ?? '') ? 'null' : Clock::toMilliseconds((float) $entry[3]);
            if ($areNods) {
                $list[] = '['.$who.',"'.($entry[2] ?? '').'",'.$third.']';
            } else {
                $list[] = '['.$who.','.('' === ($entry[2] ?? '') ? 'null' : Clock::toMilliseconds((float) $entry[2])).','.$third.',null]';
            }
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

    /** @return array{wireId: string|null, quote: Quote|null} */
    public static function answer(?string $xml): array
    {
        if (null === $xml) {
            return ['wireId' => null, 'quote' => null];
        }
        $list = PropertyList::read($xml);
        $sort = $list['sort'] ?? null;
        $quote = null;
        if (is_int($sort)) {
            $quote = new Quote(self::person($list, 'who'), true === ($list['mine'] ?? null), Codes::SLIP_SORTS[$sort] ?? Kind::Unknown, self::string($list, 'body'), self::time($list, 'sent'));
        }

        return ['wireId' => self::string($list, 'wireId'), 'quote' => $quote];
    }

    /** @param Quote|null $quote what is known of the answered slip */
    public static function writeAnswer(string $wireId, ?Quote $quote): string
    {
        $inner = '<key>wireId</key>'.PropertyList::text($wireId);
        if (null !== $quote) {
            $inner .= self::who($quote->senderKey).($quote->fromOwner ? '<key>mine</key><true/>' : '<key>mine</key><false/>').'<key>sort</key><integer>'.Codes::code(Codes::SLIP_SORTS, $quote->kind).'</integer>'
                .self::moment('sent', $quote->sentAt).(null === $quote->text ? '' : '<key>body</key>'.PropertyList::text($quote->text));
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
                $inner .= '<dict>'.self::who($r[0]).self::sign($r[1]).(null === $r[2] ? '' : '<key>given</key><real>'.Clock::toDecimal($r[2]).'</real>').'</dict>';
            }
            $inner .= '</array>';
        }
        if (null !== $receipts) {
            $inner .= '<key>marks</key><array>';
            /** @var array{string, int|null, int|null} $r */
            foreach (SafeJson::decode($receipts) as $r) {
                $inner .= '<dict>'.(self::$who[$r[0]] ?? self::who($r[0])).(null === $r[1] ? '' : '<key>handed</key><real>'.Clock::toDecimal($r[1]).'</real>').(null === $r[2] ? '' : '<key>read</key><real>'.Clock::toDecimal($r[2]).'</real>').'</dict>';
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
            $units = MentionRange::toUnits($message->text ?? '', $mention->start, $mention->length) ?? throw new \LogicException('A reader let a mention pass that does not fit its text.');
            $list['mentions'][] = ['who' => self::handle($mention->personKey), 'at' => $units[0], 'units' => $units[1]];
        }
        if (null !== $message->notice) {
            $own = $opaque[IosFormat::DETAIL_PREFIX.'notice.sort'] ?? null;
            $list['notice'] = [
                'sort' => is_string($own) ? $own : Codes::noticeCode($message->notice->kind), 'actor' => self::handle($message->notice->actorKey),
                'target' => self::handle($message->notice->targetKey), 'text' => $message->notice->text,
            ];
        }
        $content = $message->content;
        $own = $opaque[IosFormat::DETAIL_PREFIX.'ring.outcome'] ?? null;

        return $list + match (true) {
            null === $content => [],
            $content instanceof Place => ['place' => ['north' => $content->latitude, 'east' => $content->longitude, 'name' => $content->name, 'address' => $content->address, 'liveUntil' => Clock::toSeconds($content->liveUntil)]],
            $content instanceof ContactCards => ['cards' => $content->cards],
            $content instanceof Poll => ['ballot' => ['several' => $content->several, 'closed' => Clock::toSeconds($content->closedAt), 'answers' => array_map(static fn (array $answer): array => [
                'text' => $answer['text'], 'votes' => array_map(static fn (array $vote): array => ['who' => self::handle($vote['who']), 'given' => Clock::toSeconds($vote['at'])], $answer['votes']),
            ], $content->answers)]],
            $content instanceof Call => ['ring' => ['film' => $content->video, 'outcome' => is_string($own) ? $own : Codes::callOutcome($content->outcome), 'span' => null === $content->durationMs ? null : $content->durationMs / 1000.0]],
            $content instanceof LinkPreview => ['link' => ['url' => $content->url, 'title' => $content->title, 'summary' => $content->description]],
            $content instanceof CatalogueItem => ['offer' => ['article' => $content->article, 'name' => $content->name, 'priceMinor' => $content->priceMinor, 'currency' => $content->currency]],
            $content instanceof Deletion => ['withdrawn' => ['who' => self::handle($content->byKey), 'at' => Clock::toSeconds($content->deletedAt)]],
            default => throw new \LogicException('Otterpost has no place for '.$content->sort()),
        };
    }

    /** @param array<array-key, mixed> $mention */
    private function mention(int $place, array $mention, string $text): void
    {
        $who = self::person($mention, 'who') ?? '';
        [$at, $units] = [self::whole($mention, 'at') ?? -1, self::whole($mention, 'units') ?? 0];
        $bytes = MentionRange::toBytes($text, $at, $units);
        if (null === $bytes) {
            $this->unknown['mention.'.$place] = sprintf('%s %d+%d', $who, $at, $units);

            return;
        }
        $this->mentions[] = new Mention($who, $bytes[0], $bytes[1]);
    }

    /** @param array<array-key, mixed> $list */
    private function content(array $list): void
    {
        foreach (['place', 'ballot', 'ring', 'link', 'offer', 'withdrawn'] as $key) {
            $part = $list[$key] ?? null;
            if (is_array($part) && null !== $this->content) {
                $this->unknown['extras.'.$key] = (string) json_encode($part, \JSON_INVALID_UTF8_SUBSTITUTE);
            } elseif (is_array($part)) {
                $this->content = match ($key) {
                    'place' => new Place(self::real($part, 'north') ?? 0.0, self::real($part, 'east') ?? 0.0, self::string($part, 'name'), self::string($part, 'address'), self::time($part, 'liveUntil')),
                    'ballot' => new Poll(true === ($part['several'] ?? null), self::time($part, 'closed'), array_map(static fn (array $answer): array => [
                        'text' => self::string($answer, 'text') ?? '',
                        'votes' => array_map(static fn (array $vote): array => ['who' => self::person($vote, 'who'), 'at' => self::time($vote, 'given')], self::dictionaries($answer['votes'] ?? null)),
                    ], self::dictionaries($part['answers'] ?? null))),
                    'ring' => $this->call($part),
                    'link' => new LinkPreview(self::string($part, 'url') ?? '', self::string($part, 'title'), self::string($part, 'summary')),
                    'offer' => new CatalogueItem(self::string($part, 'article') ?? '', self::string($part, 'name') ?? '', self::whole($part, 'priceMinor'), self::string($part, 'currency')),
                    'withdrawn' => new Deletion(self::person($part, 'who'), self::time($part, 'at')),
                };
            }
        }
        $cards = self::dictionaries($list['cards'] ?? null);
        if ([] !== $cards) {
            $this->content = new ContactCards(array_map(static fn (array $card): array => ['name' => self::string($card, 'name'), 'vcard' => self::string($card, 'vcard') ?? ''], $cards));
        }
    }

    /** @param array<array-key, mixed> $part */
    private function call(array $part): Call
    {
        $code = self::string($part, 'outcome') ?? '';
        $outcome = Codes::CALL_OUTCOMES[$code] ?? CallOutcome::Unknown;
        if (CallOutcome::Unknown === $outcome && Codes::FOREIGN_NOTICE !== $code) {
            $this->unknown['ring.outcome'] = $code;
        }
        $span = self::real($part, 'span');

        return new Call(true === ($part['film'] ?? null), $outcome, null === $span ? null : (int) round($span * 1000));
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
        return null === $milliseconds ? '' : '<key>'.$key.'</key><real>'.Clock::toDecimal($milliseconds).'</real>';
    }

    private static function handle(?string $key): ?string
    {
        return null === $key ? null : Handle::fromKey($key, Handle::IOS_SUFFIX);
    }

    /** @param array<array-key, mixed> $dictionary */
    private static function person(array $dictionary, string $key): ?string
    {
        $handle = self::string($dictionary, $key);

        return null === $handle ? null : Handle::toKey($handle, Handle::IOS_SUFFIX);
    }

    /** @param array<array-key, mixed> $dictionary */
    private static function string(array $dictionary, string $key): ?string
    {
        $value = $dictionary[$key] ?? null;

        return is_string($value) ? $value : null;
    }

    /** @param array<array-key, mixed> $dictionary */
    private static function whole(array $dictionary, string $key): ?int
    {
        $value = $dictionary[$key] ?? null;

        return is_int($value) ? $value : null;
    }

    /** @param array<array-key, mixed> $dictionary */
    private static function real(array $dictionary, string $key): ?float
    {
        $value = $dictionary[$key] ?? null;

        return is_float($value) || is_int($value) ? (float) $value : null;
    }

    /** @param array<array-key, mixed> $dictionary */
    private static function time(array $dictionary, string $key): ?int
    {
        return Clock::toMilliseconds(self::real($dictionary, $key));
    }

    /** @return list<array<array-key, mixed>> */
    private static function dictionaries(mixed $value): array
    {
        return is_array($value) ? array_values(array_filter($value, is_array(...))) : [];
    }
}
