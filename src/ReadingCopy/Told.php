<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy;

use Geschenk\App\Shop;
use Geschenk\App\Words\Shown;
use Geschenk\App\Words\Words;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Store\ChatStore;

/** A message in words, as the ledger has them (web/lib/contents.ts), in the language of whoever takes it home. */
final class Told
{
    /** Bytes of a text that stand on a page; a longer one is whole in its line. */
    public const SHOWN_TEXT = 20_000;
    private const LINES = 100;
    private const HOUR = 3600;

    /** @var array<string, string> by person key */
    private array $names = [];

    public function __construct(
        private readonly ChatStore $chats,
        private readonly Words $words,
        private readonly string $language,
    ) {
    }

    /** @param array<string, string|int> $params */
    public function say(string $key, array $params = []): string
    {
        return $this->words->say($key, $params, $this->language);
    }

    public function sender(Message $message): string
    {
        return match (true) {
            Kind::Notice === $message->kind => '',
            $message->fromOwner => $this->say('ledger.owner'),
            null === $message->senderKey => '',
            default => $this->name($message->senderKey),
        };
    }

    public function kind(Message $message): string
    {
        return $this->say('kind.'.$message->kind->value);
    }

    /** What it says besides its text; null where that is all. */
    public function besides(Message $message): ?string
    {
        if (Kind::Notice === $message->kind) {
            return null === $message->notice ? $this->say('ledger.a_notice') : $this->notice($message->notice);
        }
        if (null !== $message->content) {
            return $this->content($message->kind, $message->content);
        }

        return match ($message->kind) {
            Kind::Deleted => $this->say('content.deleted'),
            Kind::Unknown => $this->say('ledger.unknown_kind'),
            default => null,
        };
    }

    /** As much of a text as stands on a page; of a longer one it is said where it goes on. */
    public function text(Message $message): ?string
    {
        if (null === $message->text || strlen($message->text) <= self::SHOWN_TEXT) {
            return null === $message->text ? null : mb_scrub($message->text);
        }

        return self::short($message->text, self::SHOWN_TEXT)
            .' … ['.$this->say('copy.cut', ['size_bytes' => strlen($message->text)]).']';
    }

    /** @return list<string> small words at the end of a line */
    public function marks(Message $message): array
    {
        $marks = [
            $message->starred ? $this->say('ledger.starred') : '',
            $message->forwarded ? $this->say('ledger.forwarded') : '',
            null === $message->editedAt ? '' : $this->say('mark.edited'),
        ];
        foreach (array_count_values(array_map(
            static fn (Reaction $reaction): string => self::short($reaction->sign, 64), $message->reactions,
        )) as $sign => $count) {
            $marks[] = $sign.($count > 1 ? " $count" : '');
        }

        return array_values(array_filter($marks, static fn (string $mark): bool => '' !== $mark));
    }

    /** @param int $milliseconds since 1970 UTC */
    public function day(int $milliseconds): string
    {
        return $this->words->day(self::moment($milliseconds), $this->language);
    }

    /** To the second, as a lawyer asks for it. */
    public function time(int $milliseconds): string
    {
        return self::moment($milliseconds)->format('H:i:s');
    }

    public function iso(int $milliseconds): string
    {
        return self::moment($milliseconds)->format('Y-m-d\TH:i:sP');
    }

    public function bytes(int $bytes): string
    {
        return Shown::bytes($bytes, $this->language);
    }

    public function seconds(int $milliseconds): string
    {
        return $this->say('ledger.seconds', ['n' => (int) round($milliseconds / 1000)]);
    }

    public function title(int $conversation): string
    {
        $title = self::short($this->chats->titleOf($conversation));

        return '' === $title ? $this->say('copy.untitled') : Shown::phoneNumber($title);
    }

    public function name(string $key): string
    {
        return $this->names[$key] ??= Shown::phoneNumber(self::short($this->chats->nameOf($key)));
    }

    /** As name(), with the number by which somebody is told from another of that name. */
    public function person(string $key): string
    {
        $name = $this->name($key);
        $number = Shown::phoneNumber(self::short($this->chats->numberOf($key) ?? ''));

        return '' === $number || $number === $name ? $name : "$name, $number";
    }

    /** What a phone brought may be of any length and hold any bytes. */
    public static function short(string $text, int $bytes = 400): string
    {
        return mb_scrub(mb_strcut(mb_scrub(substr($text, 0, $bytes + 4)), 0, $bytes));
    }

    /** @param int $milliseconds since 1970 UTC */
    public static function moment(int $milliseconds): \DateTimeImmutable
    {
        // Beyond what a calendar has, its ends.
        $seconds = max(-62_135_596_800, min(253_402_300_799, intdiv($milliseconds, 1000)));

        return (new \DateTimeImmutable('@'.$seconds))->setTimezone(new \DateTimeZone(Shop::ZONE));
    }

    private function notice(Notice $notice): string
    {
        $kind = NoticeKind::Joined === $notice->kind && null !== $notice->targetKey ? 'added' : $notice->kind->value;
        $key = 'notice.'.$kind;
        if (!$this->words->has($key)) {
            return $this->say('notice.unknown');
        }
        $text = match (true) {
            null === $notice->text => '',
            NoticeKind::TimerChanged === $notice->kind => $this->lifetime((int) $notice->text),
            default => ' '.$this->say('notice.quoted', ['text' => self::short($notice->text)]),
        };

        return $this->say($key, [
            'actor' => null === $notice->actorKey ? $this->say('notice.owner') : $this->name($notice->actorKey),
            'target' => null === $notice->targetKey ? $this->say('notice.somebody') : $this->name($notice->targetKey),
            'text' => $text,
        ]);
    }

    private function lifetime(int $seconds): string
    {
        $hours = (int) round($seconds / self::HOUR);

        return match (true) {
            0 === $hours => $this->say('notice.for_good'),
            $hours >= 24 => $this->say('notice.days', ['n' => (int) round($hours / 24)]),
            default => $this->say('notice.hours', ['n' => $hours]),
        };
    }

    private function content(Kind $kind, Content $content): string
    {
        $word = mb_convert_case($this->say('kind.'.$kind->value), \MB_CASE_TITLE_SIMPLE);
        if ($content instanceof Place) {
            $at = sprintf('%.5f, %.5f', $content->latitude, $content->longitude);
            $where = implode(', ', array_filter(
                [$content->name, $content->address, $at], static fn (?string $part): bool => '' !== (string) $part,
            ));

            return $this->say('content.place', ['kind' => $word, 'where' => self::short($where)]);
        }
        if ($content instanceof ContactCards) {
            return $this->with($this->say('content.cards', ['count' => count($content->cards)]), array_map(
                static fn (array $card): string => $card['name'] ?? '–', $content->cards,
            ));
        }
        if ($content instanceof Poll) {
            $votes = array_sum(array_map(static fn (array $a): int => count($a['votes']), $content->answers));

            return $this->with($this->say('content.poll', ['count' => $votes]), array_map(
                static fn (array $a): string => sprintf('%s (%d)', $a['text'], count($a['votes'])), $content->answers,
            ));
        }
        if ($content instanceof Call) {
            $outcome = $this->say('call.'.$content->outcome->value);

            return null === $content->durationMs
                ? $this->say('content.call', ['outcome' => $outcome])
                : $this->say('content.call_for', [
                    'outcome' => $outcome, 'time' => $this->seconds($content->durationMs),
                ]);
        }
        if ($content instanceof LinkPreview) {
            return $this->say('content.link_title', ['title' => self::short($content->title ?? $content->url)]);
        }
        if ($content instanceof CatalogueItem) {
            return implode(', ', array_filter([
                $this->say('content.item'), self::short($content->name),
                null === $content->priceMinor
                    ? ''
                    : sprintf('%.2f %s', $content->priceMinor / 100, $content->currency ?? ''),
            ], static fn (string $part): bool => '' !== $part));
        }

        return $this->say('content.deleted');
    }

    /** @param list<string> $lines */
    private function with(string $what, array $lines): string
    {
        $told = implode(' · ', array_map(self::short(...), array_slice($lines, 0, self::LINES)));

        return '' === $told ? $what : $what.': '.$told;
    }
}
