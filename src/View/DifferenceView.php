<?php

declare(strict_types=1);

namespace Geschenk\App\View;

use Geschenk\App\Shop;
use Geschenk\App\Words\Language;
use Geschenk\App\Words\Shown;
use Geschenk\App\Words\Words;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\MessageRow;
use Geschenk\Core\Store\StoredMessage;
use Symfony\Component\HttpFoundation\RequestStack;

/**
 * One message as it was meant and as it was found, field by field. Covered like every other page: of a text it says how
 * long it is and where the two part, and never what it says.
 */
final readonly class DifferenceView
{
    public function __construct(
        private Words $words,
        private Language $language,
        private RequestStack $requests,
    ) {
    }

    /**
     * @param list<string> $aspects names of what differs
     *
     * @return list<array{aspect: string, meant: string, there: string}>
     */
    public function of(
        ChatStore $expected,
        StoredMessage $meant,
        ChatStore $found,
        StoredMessage $there,
        array $aspects,
    ): array {
        $language = $this->language->current();
        $rows = [];
        foreach ($aspects as $aspect) {
            $rows[] = [
                'aspect' => $aspect,
                'meant' => $this->told($expected, $meant, $there->message, $aspect, $language),
                'there' => $this->told($found, $there, $meant->message, $aspect, $language),
            ];
        }

        return $rows;
    }

    private function told(
        ChatStore $chats,
        StoredMessage $stored,
        Message $other,
        string $aspect,
        string $language,
    ): string {
        $message = $stored->message;

        return match ($aspect) {
            'sender' => $message->fromOwner
                ? $this->words->say('difference.owner', [], $language)
                : (null === $message->senderKey ? '–' : mb_scrub($chats->nameOf($message->senderKey))),
            'kind' => $this->words->say('kind.'.$message->kind->value, [], $language),
            'text' => $this->text($message->text, $other->text, $language),
            'sent_at' => self::moment($message->sentAt),
            'received_at' => self::moment($message->receivedAt),
            'edited_at' => self::moment($message->editedAt),
            'expires_at' => self::moment($message->expiresAt),
            'state' => $this->words->say('delivery.'.$message->state->value, [], $language),
            'flags' => $this->words->say('difference.flags', [
                'starred' => $message->starred ? 'yes' : 'no', 'forwarded' => $message->forwarded ? 'yes' : 'no',
            ], $language),
            'reply' => null === $message->replyTo
                ? $this->words->say('difference.no_reply', [], $language)
                : self::moment($chats->placeOfAnswered(0, $message->replyTo)['sent_at'] ?? null),
            'reactions' => $this->count($message->reactions, MessageRow::reactionsJson($message->reactions), $language),
            'receipts' => $this->count($message->receipts, MessageRow::receiptsJson($message->receipts), $language),
            'mentions' => $this->count($message->mentions, serialize($message->mentions), $language),
            'attachments' => $this->attachments($message->attachments, $language),
            'order' => $this->words->say('difference.place', ['place' => $stored->place], $language),
            'view_once' => $message->viewOnce->value ?? '–',
            'wire_id' => mb_scrub($message->wireId ?? '–'),
            // What it says is covered; that it is another is told by a mark.
            'content' => $this->mark(null === $message->content ? null : serialize($message->content->toArray())),
            'notice' => $this->mark(null === $message->notice ? null : serialize($message->notice->canonical())),
            'quote' => $this->mark(null === $message->quote ? null : serialize($message->quote->canonical())),
            'effect' => $this->mark($message->effect),
            default => $this->mark([] === $message->opaque ? null : serialize($message->opaque)),
        };
    }

    private function text(?string $text, ?string $other, string $language): string
    {
        if (null === $text || '' === $text) {
            return $this->words->say('difference.no_text', [], $language);
        }
        $here = mb_str_split(mb_scrub($text));
        $there = mb_str_split(mb_scrub($other ?? ''));
        $same = 0;
        while (isset($here[$same], $there[$same]) && $here[$same] === $there[$same]) {
            ++$same;
        }

        return $this->words->say('difference.text', ['length' => count($here), 'from' => $same + 1], $language);
    }

    /** @param list<mixed> $list */
    private function count(array $list, ?string $canonical, string $language): string
    {
        return [] === $list ? '–' : $this->words->say('difference.count', ['count' => count($list)], $language)
            .' '.$this->mark($canonical);
    }

    /** @param list<Attachment> $attachments */
    private function attachments(array $attachments, string $language): string
    {
        return [] === $attachments ? '–' : implode('; ', array_map(
            fn (Attachment $a): string => $a->presence->hasFile()
                ? mb_scrub(substr($a->mediaType, 0, 60)).', '.Shown::bytes($a->bytes, $language)
                    .', '.substr($a->sha256 ?? '–', 0, 8)
                : $this->words->say('difference.no_file', [], $language),
            $attachments,
        ));
    }

    /** With its milliseconds, in the shop's zone: what differs may be that small. */
    private static function moment(?int $milliseconds): string
    {
        if (null === $milliseconds) {
            return '–';
        }
        $seconds = (int) floor($milliseconds / 1000);
        $at = (new \DateTimeImmutable('@'.$seconds))->setTimezone(new \DateTimeZone(Shop::ZONE));

        return $at->format('Y-m-d H:i:s').sprintf('.%03d', $milliseconds - $seconds * 1000);
    }

    /** Tells two contents apart for this session, and can be computed by nobody who guesses at one. */
    private function mark(?string $canonical): string
    {
        return null === $canonical ? '–' : '#'.substr(hash_hmac('sha256', $canonical, $this->key()), 0, 8);
    }

    private function key(): string
    {
        $session = $this->requests->getSession();
        $key = $session->get('difference.key');
        if (!is_string($key)) {
            $session->set('difference.key', $key = bin2hex(random_bytes(16)));
        }

        return $key;
    }
}
