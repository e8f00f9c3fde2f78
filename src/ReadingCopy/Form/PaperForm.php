<?php

declare(strict_types=1);

namespace Geschenk\App\ReadingCopy\Form;

use Geschenk\App\Entity\ReadingCopy;
use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\Form;
use Geschenk\App\ReadingCopy\NeedsProgram;
use Geschenk\App\ReadingCopy\PaperCodes;
use Geschenk\App\ReadingCopy\Print\SmallPictures;
use Geschenk\App\ReadingCopy\Print\Typesetter;
use Geschenk\App\ReadingCopy\ShownRow;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Files\Durable\SafeName;
use Geschenk\Core\Progress;
use Geschenk\Core\Store\StoredMessage;
use Geschenk\Core\UnusableInput;
use Symfony\Component\DependencyInjection\Attribute\AsTaggedItem;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Twig\Environment;

/**
 * Conversations for paper (PDF), in parts. On each page stand its number, the backup that it is of with its hash, and a
 * check code, by which it is held against the shop's records.
 *
 * @phpstan-import-type Row from ShownRow
 * @phpstan-import-type Part from ReadingCopy
 */
#[AsTaggedItem(priority: 45)]
final readonly class PaperForm implements Form, NeedsProgram
{
    public const FOLDER = 'pdf';
    /** Messages in a part, bytes of their texts, and their files: what lays it out never has many more at once. */
    public const PART = 500;
    private const BYTES = 400_000;
    private const FILES = 200;
    /** Who is named at the head of a part. */
    private const PEOPLE = 100;
    /** Bytes that a picture takes, about. */
    private const PICTURE = 30_000;
    /** Where a page puts what the program counts. */
    private const PAGE = "\u{E000}";
    private const PAGES = "\u{E001}";

    public function __construct(
        private Typesetter $typesetter,
        private SmallPictures $small,
        private PaperCodes $codes,
        private Environment $twig,
        #[Autowire('%kernel.project_dir%/templates/copy/paper.css')] private string $style,
    ) {
    }

    public static function name(): string
    {
        return 'paper';
    }

    public static function usesFiles(): bool
    {
        return false;
    }

    public static function bytes(int $messages, int $files): int
    {
        return 1_500 * $messages + self::PICTURE * $files;
    }

    public function isThere(): bool
    {
        return $this->typesetter->isThere();
    }

    public function write(CopyContext $of, Progress $progress): void
    {
        $lost = array_column($of->extract->chats->overview(), 'lost', 'id');
        foreach ($of->extract->conversations() as $conversation) {
            $count = $of->extract->count($conversation->id);
            $about = [
                'id' => $conversation->id, 'title' => $of->told->title($conversation->id), 'messages' => $count,
                'kind' => $of->told->say('conversation.'.$conversation->conversation->kind->value),
                'lost' => $lost[$conversation->id] ?? 0,
                'people' => $this->people($of, $conversation->id),
            ];
            $before = 0;
            foreach ($this->parts($of, $conversation->id) as $place => $part) {
                $this->part($of, ['part' => $place + 1, 'before' => $before] + $about, $part, $progress);
                $before += count($part);
                $progress->advance(count($part));
            }
        }
    }

    /** @return \Generator<int, list<StoredMessage>> at least one */
    private function parts(CopyContext $of, int $conversation): \Generator
    {
        $part = [];
        $bytes = $files = 0;
        foreach ($of->extract->messages($conversation) as $message) {
            if (self::PART === count($part) || $bytes > self::BYTES || $files >= self::FILES) {
                yield $part;
                $part = [];
                $bytes = $files = 0;
            }
            $part[] = $message;
            $files += count($message->message->attachments);
            $bytes += min(strlen($message->message->text ?? ''), $of->told::SHOWN_TEXT);
        }
        yield $part;
    }

    /**
     * @param array{id: int, title: string, part: int, before: int, ...} $about
     * @param list<StoredMessage>                                        $messages
     */
    private function part(CopyContext $of, array $about, array $messages, Progress $progress): void
    {
        [$pictures, $drawn] = $this->pictures($of, $messages, $progress);
        $rows = array_map(static fn (StoredMessage $message): array => ShownRow::of($of, $message), $messages);
        $times = array_map(static fn (StoredMessage $message): int => $message->message->sentAt, $messages);
        $part = [
            'sha256' => hash('sha256', json_encode(
                [$of->language, ['taken_at' => $of->of['taken_at']->getTimestamp()] + $of->of, $about, $rows],
                \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE,
            )),
            'messages' => count($messages), 'first' => $times[0] ?? 0, 'last' => end($times) ?: 0,
        ];
        $html = $this->twig->render('copy/paper.html.twig', [
            'language' => $of->language, 'of' => $of->of, 'about' => $about, 'rows' => $rows,
            'style' => (string) file_get_contents($this->style), 'foot' => $this->foot($of, $part),
            'drawn' => $drawn,
        ]);
        $name = implode('_', array_filter(
            [sprintf('%05d', $about['id']), SafeName::of($about['title'].'.'), sprintf('%02d', $about['part'])],
            static fn (string $one): bool => '' !== $one,
        ));
        $of->folder->put(self::FOLDER.'/'.$name.'.pdf', $this->typesetter->pdf($html, $pictures, $of->of['taken_at']));
        $of->printed->note($part);
    }

    /**
     * @param list<StoredMessage> $messages
     *
     * @return array{array<string, string>, array<int, array<int, string>>} pictures by their names on the page; which
     *                                                                      are at a message, by their place in it
     */
    private function pictures(CopyContext $of, array $messages, Progress $progress): array
    {
        $pictures = $drawn = [];
        foreach ($messages as $message) {
            foreach ($message->message->attachments as $place => $attachment) {
                $path = $of->file($message, $place);
                if (null === $path || !in_array($attachment->mediaType, ShownRow::PICTURES, true)
                    || $attachment->bytes > SmallPictures::BYTES || count($pictures) >= 2 * self::FILES
                ) {
                    continue;
                }
                // Whoever cancels need not wait for all of them.
                $progress->advance(0);
                $picture = $this->content($of, $attachment);
                if (null === $picture) {
                    // It was kept: that it is not there any more as it was is said, and calls.
                    $of->spoilt->note($path);
                    continue;
                }
                $small = $this->small->of($picture);
                if (null !== $small) {
                    $name = sprintf('m%d-%d.jpg', $message->id, $place);
                    [$pictures[$name], $drawn[$message->id][$place]] = [$small, $name];
                }
            }
        }

        return [$pictures, $drawn];
    }

    /** @return string|null null where the backup does not hold it any more as it was kept */
    private function content(CopyContext $of, Attachment $attachment): ?string
    {
        try {
            $stream = $of->extract->files->open($attachment->path);
            // However large it has become: one that is larger than it was is not what was kept.
            $content = null === $stream ? null : stream_get_contents($stream, SmallPictures::BYTES + 1);
            null === $stream ?: fclose($stream);
        } catch (UnusableInput) {
            return null;
        }

        return is_string($content)
            && (null === $attachment->sha256 || hash_equals($attachment->sha256, hash('sha256', $content)))
            ? $content
            : null;
    }

    /**
     * @param Part $part
     *
     * @return array{records: string, page: string} what stands below each page, as CSS has contents
     */
    private function foot(CopyContext $of, array $part): array
    {
        $page = $of->told->say('copy.paper_page', ['page' => self::PAGE, 'pages' => self::PAGES]);

        return [
            'records' => self::css($of->told->say('copy.paper_foot', [
                'backup' => $of->of['backup'], 'sha256' => $of->of['fingerprint'],
                'code' => $this->codes->of($of->of['backup'], $of->of['fingerprint'], $part),
            ])),
            'page' => str_replace(
                array_map(static fn (string $one): string => trim(self::css($one), '"'), [self::PAGE, self::PAGES]),
                ['" counter(page) "', '" counter(pages) "'], self::css($page),
            ),
        ];
    }

    /** A text as CSS writes it (CSS Syntax Level 3, 4.3.7): nothing in it ends it, no space is lost. */
    private static function css(string $text): string
    {
        return '"'.preg_replace_callback(
            '/[^A-Za-z0-9]/u', static fn (array $letter): string => sprintf('\\%06x', mb_ord($letter[0])),
            mb_scrub($text),
        ).'"';
    }

    /** @return list<string> who is in it, with their numbers */
    private function people(CopyContext $of, int $conversation): array
    {
        $about = $of->extract->chats->conversationById($conversation)->conversation;
        $keys = ConversationKind::Direct === $about->kind ? [$about->key] : array_column($about->members, 'personKey');

        $people = array_map($of->told->person(...), array_slice($keys, 0, self::PEOPLE));
        $others = count($keys) - count($people);

        return 0 === $others ? $people : [...$people, $of->told->say('copy.paper_others', ['count' => $others])];
    }
}
