<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Messenger\Otterpost\Handle;

/** The property lists on a slip: ZEXTRAS with nods, marks and the notice, ZANSWER with a copy of the answered slip. */
final readonly class Extras
{
    /**
     * @param list<Reaction> $reactions
     * @param list<Receipt>  $receipts
     */
    private function __construct(public array $reactions, public array $receipts, public ?Notice $notice, public ?string $unknownNotice)
    {
    }

    public static function read(?string $xml): self
    {
        $list = null === $xml ? [] : PropertyList::read($xml);
        $reactions = [];
        foreach (self::dictionaries($list['nods'] ?? null) as $nod) {
            $reactions[] = new Reaction(self::person($nod, 'who'), self::string($nod, 'sign') ?? '', self::time($nod, 'given'));
        }
        $receipts = [];
        foreach (self::dictionaries($list['marks'] ?? null) as $mark) {
            $receipts[] = new Receipt(self::person($mark, 'who') ?? '', self::time($mark, 'handed'), self::time($mark, 'read'), null);
        }
        $notice = null;
        $unknown = null;
        foreach (self::dictionaries([$list['notice'] ?? null]) as $told) {
            $sort = self::string($told, 'sort') ?? '';
            $kind = Codes::NOTICE_SORTS[$sort] ?? NoticeKind::Unknown;
            $unknown = NoticeKind::Unknown === $kind && Codes::FOREIGN_NOTICE !== $sort ? $sort : null;
            $notice = new Notice($kind, self::person($told, 'actor'), self::person($told, 'target'), self::string($told, 'text'));
        }

        return new self($reactions, $receipts, $notice, $unknown);
    }

    /** @param string|null $noticeSort the word for a notice that only iOS knows */
    public static function write(Message $message, ?string $noticeSort = null): ?string
    {
        $list = [];
        foreach ($message->reactions as $reaction) {
            $list['nods'][] = ['who' => self::handle($reaction->personKey), 'sign' => $reaction->sign, 'given' => Clock::toSeconds($reaction->givenAt)];
        }
        foreach ($message->receipts as $receipt) {
            $list['marks'][] = ['who' => self::handle($receipt->personKey), 'handed' => Clock::toSeconds($receipt->deliveredAt), 'read' => Clock::toSeconds($receipt->readAt)];
        }
        if (null !== $message->notice) {
            $list['notice'] = [
                'sort' => $noticeSort ?? Codes::noticeCode($message->notice->kind), 'actor' => self::handle($message->notice->actorKey),
                'target' => self::handle($message->notice->targetKey), 'text' => $message->notice->text,
            ];
        }

        return [] === $list ? null : PropertyList::write($list);
    }

    public static function answeredWireId(?string $xml): ?string
    {
        return null === $xml ? null : self::string(PropertyList::read($xml), 'wireId');
    }

    /** @param Message|null $answered null when the answered slip is gone or in another room */
    public static function answer(string $wireId, ?Message $answered): string
    {
        return PropertyList::write([
            'wireId' => $wireId,
            'who' => self::handle($answered?->senderKey),
            'mine' => null === $answered ? null : $answered->fromOwner,
            'sort' => null === $answered ? null : Codes::code(Codes::SLIP_SORTS, $answered->kind),
            'sent' => Clock::toSeconds($answered?->sentAt),
            // A quote is a quote: the first 400 bytes are enough to recognise it.
            'body' => null === $answered?->text ? null : mb_strcut($answered->text, 0, 400, 'UTF-8'),
        ]);
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
    private static function time(array $dictionary, string $key): ?int
    {
        $value = $dictionary[$key] ?? null;

        return is_float($value) || is_int($value) ? Clock::toMilliseconds((float) $value) : null;
    }

    /** @return list<array<array-key, mixed>> */
    private static function dictionaries(mixed $value): array
    {
        return is_array($value) ? array_values(array_filter($value, is_array(...))) : [];
    }
}
