<?php

declare(strict_types=1);

namespace Geschenk\Core\Store;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Message;

/**
 * Where words stand in a message, whatever case they are in and however their accents are made: a text of one
 * platform may be composed where that of the other is not.
 */
final readonly class Hits
{
    /** Characters that are shown before and behind the first hit. */
    private const AROUND = 80;

    public string $words;

    public function __construct(string $words)
    {
        $this->words = self::composed($words);
    }

    public function isIn(string $text): bool
    {
        return false !== mb_stripos(self::composed($text), $this->words);
    }

    /**
     * The part around the first hit, cut where the hits begin and end.
     *
     * @return list<array{text: string, hit: bool}> empty where the words do not stand in the message
     */
    public function of(Message $message): array
    {
        foreach (self::texts($message) as $text) {
            $text = self::composed($text);
            $first = mb_stripos($text, $this->words);
            if (false !== $first) {
                return $this->cut($text, $first);
            }
        }

        return [];
    }

    /** @return list<array{text: string, hit: bool}> */
    private function cut(string $text, int $first): array
    {
        $length = mb_strlen($this->words);
        $begin = max(0, $first - self::AROUND);
        $end = $first + $length + self::AROUND;
        $part = mb_substr($text, $begin, $end - $begin);
        $parts = $begin > 0 ? [['text' => '…', 'hit' => false]] : [];
        $at = 0;
        while (false !== $hit = mb_stripos($part, $this->words, $at)) {
            if ($hit > $at) {
                $parts[] = ['text' => mb_substr($part, $at, $hit - $at), 'hit' => false];
            }
            $parts[] = ['text' => mb_substr($part, $hit, $length), 'hit' => true];
            $at = $hit + $length;
        }
        $rest = mb_substr($part, $at).(mb_strlen($text) > $end ? '…' : '');

        return '' === $rest ? $parts : [...$parts, ['text' => $rest, 'hit' => false]];
    }

    /**
     * All that somebody wrote, or that was shown with it.
     *
     * @return iterable<string>
     */
    private static function texts(Message $message): iterable
    {
        $content = $message->content;
        $all = [
            $message->text, $message->notice?->text,
            ...match (true) {
                $content instanceof Place => [$content->name, $content->address],
                $content instanceof ContactCards => array_column($content->cards, 'name'),
                $content instanceof Poll => array_column($content->answers, 'text'),
                $content instanceof LinkPreview => [$content->title, $content->description, $content->url],
                $content instanceof CatalogueItem => [$content->name],
                default => [],
            },
            ...array_map(static fn (Attachment $a): ?string => $a->shownName, $message->attachments),
        ];
        foreach ($all as $text) {
            if (null !== $text && '' !== $text) {
                yield $text;
            }
        }
    }

    private static function composed(string $text): string
    {
        $text = mb_scrub($text);
        if (mb_check_encoding($text, 'ASCII')) {
            return $text;
        }
        $composed = \Normalizer::normalize($text, \Normalizer::FORM_C);

        return is_string($composed) ? $composed : $text;
    }
}
