<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\ReadingCopy;

use Geschenk\App\ReadingCopy\CopyContext;
use Geschenk\App\ReadingCopy\CopyMaker;
use Geschenk\App\ReadingCopy\Form\PaperForm;
use Geschenk\App\ReadingCopy\PaperCodes;
use Geschenk\App\ReadingCopy\Print\PrintFailure;
use Geschenk\App\ReadingCopy\Print\SmallPictures;
use Geschenk\App\ReadingCopy\Print\Typesetter;
use Geschenk\App\ReadingCopy\Told;
use Geschenk\App\Words\Words;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\NoProgress;
use Geschenk\Core\ReadingCopy\CopyFolder;
use Geschenk\Core\ReadingCopy\Extract;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\ContentFiles;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Bundle\FrameworkBundle\Test\KernelTestCase;
use Symfony\Component\Process\Process;

/** Conversations for paper, as strangers' tools read them: whatever is written in them. */
final class PaperFormTest extends KernelTestCase
{
    use Scratch;

    private const SCRIPTS = [
        'Latin' => 'Größe, Łódź, İzmir', 'Greek' => 'Καλημέρα', 'Cyrillic' => 'Добрый день', 'Arabic' => 'صباح الخير',
        'Hebrew' => 'בוקר טוב', 'Devanagari' => 'नमस्ते', 'Thai' => 'สวัสดี', 'Chinese' => '早上好', 'Japanese' => 'おはよう',
        'Korean' => '좋은 아침',
    ];

    /** By Orientation (EXIF 2.32): where the corner is seen that is stored first, right and down. */
    private const CORNERS = [
        1 => [0, 0], 2 => [1, 0], 3 => [1, 1], 4 => [0, 1], 5 => [0, 0], 6 => [1, 0], 7 => [1, 1], 8 => [0, 1],
    ];

    public function testEveryScriptIsReadOnPaperAsItWasWritten(): void
    {
        $pdf = $this->paper(self::texts([...array_values(self::SCRIPTS), '🌷 and 👩🏽‍🔧']));
        $text = self::read($pdf);
        foreach (self::SCRIPTS as $script => $written) {
            // What is written from the right may be read in the order in which it is seen.
            self::assertTrue(
                str_contains($text, $written) || str_contains($text, self::reversed($written)), $script."\n".$text,
            );
        }
        // Fonts of each are in it: a stranger's computer needs none.
        $fonts = (new Process(['pdffonts', $pdf]))->mustRun()->getOutput();
        $rows = array_slice(explode("\n", trim($fonts)), 2);
        self::assertGreaterThan(3, count($rows));
        foreach ($rows as $row) {
            self::assertMatchesRegularExpression('/\s(yes|no) +(yes|no) +(yes|no) +\d+ +\d+\s*$/', $row);
            self::assertMatchesRegularExpression('/\syes +(yes|no) +(yes|no) +\d+ +\d+\s*$/', $row, 'Embedded.');
        }
    }

    /** What a font lacks is drawn as the same box, whatever it is. */
    public function testTwoLettersOfAScriptAreTwoOnPaper(): void
    {
        $letters = [];
        foreach (self::SCRIPTS as $text) {
            preg_match_all('/\p{L}/u', $text, $found);
            $letters = [...$letters, ...array_slice($found[0], 0, 2)];
        }
        $letters = [...$letters, '🌷', '🌻'];
        $style = "<meta charset=\"utf-8\"><style>{$this->style()} p { break-after: page }</style>";
        $page = $style.'<p>'.implode('<p>', $letters);
        $pdf = self::getContainer()->get(Typesetter::class)->pdf($page, [], new \DateTimeImmutable());
        file_put_contents($this->path('letters.pdf'), $pdf);
        (new Process(['pdftoppm', '-r', '60', $this->path('letters.pdf'), $this->path('letter')]))->mustRun();
        $drawn = array_map(sha1_file(...), glob($this->path('letter-*.ppm')) ?: []);
        foreach (array_chunk($letters, 2) as $n => $two) {
            self::assertNotSame($drawn[2 * $n] ?? '', $drawn[2 * $n + 1] ?? '', implode(' ', $two));
        }
    }

    public function testWhatIsWrittenIsATextAndRunsNothing(): void
    {
        $texts = [
            '<script>document.body.textContent = "RAN"</script>', '<img src=x onerror="document.title=1">',
            '</style><style>body { display: none }</style>', '"; } @page { @bottom-left { content: "Page 9 of 9" } }',
            '<iframe src="file:///etc/hostname"></iframe>', '<link rel=stylesheet href="http://127.0.0.1:9/x.css">',
            "\u{202E}turned\u{202C}", "nul \0 and \x1B[31m", str_repeat('x', 3_000),
        ];
        $title = '</title><script>"RAN"</script>\"; } @page {';
        $pdf = $this->paper(self::texts($texts), $title);
        $text = self::read($pdf);
        foreach (array_slice($texts, 0, 6) as $written) {
            self::assertStringContainsString(
                preg_replace('/\s+/', '', $written) ?? '', preg_replace('/\s+/', '', $text) ?? '',
            );
        }
        self::assertStringContainsString('Page 1 of', $text);
        self::assertStringContainsString('Check code ', $text);
        $name = basename($pdf);
        self::assertSame('00001_title-script-ran-script-page_01.pdf', $name);
    }

    public function testALongOneIsPartedAndEachPartSaysWhereItStands(): void
    {
        $folder = $this->laidOut(self::texts(array_map(
            static fn (int $n): string => "Message $n", range(0, PaperForm::PART),
        )));
        $parts = glob($folder.'/pdf/*.pdf') ?: [];
        self::assertCount(2, $parts);
        self::assertStringContainsString('Part 1: messages 1 to 500 of 501', self::read($parts[0]));
        self::assertStringContainsString('Part 2: messages 501 to 501 of 501', self::read($parts[1]));
        self::assertNotSame(self::code($parts[0]), self::code($parts[1]));
    }

    public function testAnEmptyConversationIsAPageTooAndLongTextsAreParted(): void
    {
        $folder = $this->laidOut([]);
        self::assertStringContainsString('Part 1: no message', self::read((glob($folder.'/pdf/*.pdf') ?: [''])[0]));
        $folder = $this->laidOut(self::texts(array_map(
            static fn (int $n): string => str_repeat("word $n ", 4_000), range(0, 24),
        )));
        self::assertCount(2, glob($folder.'/pdf/*.pdf') ?: []);
        // Many files make a part, too.
        $folder = $this->laidOut(array_fill(0, 201, self::withPicture('none that is there')));
        self::assertCount(2, glob($folder.'/pdf/*.pdf') ?: []);
    }

    /** @return iterable<string, array{callable(string): string, bool}> */
    public static function pictures(): iterable
    {
        yield 'whole' => [static fn (string $picture): string => $picture, true];
        yield 'cut' => [static fn (string $picture): string => substr($picture, 0, 100), false];
        yield 'none' => [static fn (string $picture): string => '<?php echo "not a picture";', false];
    }

    /** @param callable(string): string $made */
    #[DataProvider('pictures')]
    public function testAPictureIsShownWithItsHashAndOneThatIsNoneCostsItself(callable $made, bool $isShown): void
    {
        $picture = $made(self::picture());
        $messages = [Chats::text('look'), self::withPicture($picture)];
        $pdf = $this->paper($messages, files: ['a.jpg' => $picture]);
        self::assertStringContainsString(hash('sha256', $picture), self::read($pdf));
        $images = (new Process(['pdfimages', '-list', $pdf]))->mustRun()->getOutput();
        self::assertSame($isShown ? 1 : 0, substr_count($images, ' jpeg '), $images);
    }

    public function testAPictureIsSeenAsItWasHeld(): void
    {
        $root = dirname(__DIR__, 3);
        $small = new SmallPictures($root.'/bin/draw-small', $this->path('compiled'));
        $image = imagecreatetruecolor(80, 40);
        self::assertNotFalse($image);
        imagefilledrectangle($image, 0, 0, 80, 40, 0xFFFFFF);
        imagefilledrectangle($image, 0, 0, 20, 20, 0x000000);
        ob_start();
        imagejpeg($image);
        $jpeg = (string) ob_get_clean();
        foreach (self::CORNERS as $orientation => [$right, $down]) {
            $told = "Exif\0\0II*\0".pack('VvvvVvvV', 8, 1, 0x0112, 3, 1, $orientation, 0, 0);
            $drawn = $small->of("\xFF\xD8\xFF\xE1".pack('n', strlen($told) + 2).$told.substr($jpeg, 2));
            $seen = null === $drawn ? false : imagecreatefromstring($drawn);
            self::assertNotFalse($seen, "$orientation");
            [$width, $height] = $orientation < 5 ? [80, 40] : [40, 80];
            self::assertSame([$width, $height], [imagesx($seen), imagesy($seen)], "$orientation");
            foreach (self::CORNERS as [$x, $y]) {
                $light = imagecolorat($seen, 5 + $x * ($width - 10), 5 + $y * ($height - 10)) & 0xFF;
                self::assertSame([$x, $y] === [$right, $down], $light < 100, "$orientation at $x $y");
            }
        }
    }

    public function testAPictureThatIsNotAsItWasKeptIsNotShownAndCounts(): void
    {
        $chats = $this->chats([self::withPicture(self::picture())]);
        mkdir($this->path('kept'));
        file_put_contents($this->path('kept/a.jpg'), strrev(self::picture()));
        $of = $this->context($chats, $this->path('copy'));
        self::getContainer()->get(PaperForm::class)->write($of, new NoProgress());
        self::assertSame(1, $of->spoilt->count());
        $text = self::read((glob($this->path('copy').'/pdf/*.pdf') ?: [''])[0]);
        self::assertStringContainsString('spoilt on the shop’s disk', preg_replace('/\s+/', ' ', $text) ?? '');
    }

    public function testWithoutTheProgramItIsNotOfferedAndSaidWhereItWasAskedFor(): void
    {
        $path = (string) getenv('PATH');
        try {
            putenv('PATH=/nowhere');
            self::assertNotContains('paper', self::getContainer()->get(CopyMaker::class)->names());
            $this->expectExceptionObject(PrintFailure::noProgram());
            self::getContainer()->get(Typesetter::class)->pdf('<p>', [], new \DateTimeImmutable());
        } finally {
            putenv('PATH='.$path);
        }
    }

    public function testACodeIsOfOneBackupAndOfAllThatStandsInAPart(): void
    {
        $codes = self::getContainer()->get(PaperCodes::class);
        $part = ['sha256' => str_repeat('a', 64), 'messages' => 3, 'first' => 1, 'last' => 5];
        $code = $codes->of('backup', 'fingerprint', $part);
        self::assertSame($code, $codes->of('backup', 'fingerprint', $part));
        foreach ([
            ['other', 'fingerprint', $part], ['backup', 'other', $part],
            ['backup', 'fingerprint', ['sha256' => str_repeat('b', 64)] + $part],
            ['backup', 'fingerprint', ['messages' => 4] + $part], ['backup', 'fingerprint', ['first' => 2] + $part],
            ['backup', 'fingerprint', ['last' => 6] + $part],
        ] as [$backup, $fingerprint, $other]) {
            self::assertNotSame($code, $codes->of($backup, $fingerprint, $other));
        }
    }

    private function style(): string
    {
        return (string) file_get_contents(dirname(__DIR__, 3).'/templates/copy/paper.css');
    }

    /**
     * @param list<Message>         $messages
     * @param array<string, string> $files
     */
    private function paper(array $messages, ?string $title = null, array $files = []): string
    {
        $made = glob($this->laidOut($messages, $title, $files).'/pdf/*.pdf') ?: [];
        self::assertCount(1, $made);

        return $made[0];
    }

    /**
     * @param list<Message>         $messages
     * @param array<string, string> $files
     *
     * @return string the folder
     */
    private function laidOut(array $messages, ?string $title = null, array $files = []): string
    {
        @mkdir($this->path('kept'));
        foreach ($files as $name => $content) {
            file_put_contents($this->path('kept/'.$name), $content);
        }
        $folder = $this->path('copy-'.bin2hex(random_bytes(4)));
        self::getContainer()->get(PaperForm::class)->write(
            $this->context($this->chats($messages, $title), $folder), new NoProgress(),
        );

        return $folder;
    }

    /** @param list<Message> $messages */
    private function chats(array $messages, ?string $title = null): ChatStore
    {
        $path = $this->path('chats-'.bin2hex(random_bytes(4)).'.sqlite');

        return Chats::store($path, static function (StoreWriter $writer) use ($messages, $title): void {
            $writer->person(new Person('+447700900002', '+447700900002', 'Ada Quay', null));
            $id = $writer->conversation(null === $title ? Chats::direct() : new Conversation(
                'room', ConversationKind::Group, $title, null, null, false, null, null, 0, null, [],
            ));
            foreach ($messages as $message) {
                $writer->message($id, $message);
            }
        });
    }

    private function context(ChatStore $chats, string $folder): CopyContext
    {
        $words = self::getContainer()->get(Words::class);

        return new CopyContext(
            new Extract($chats, new ContentFiles(new FolderFiles($this->path('kept')), $chats)),
            self::getContainer()->get(CopyMaker::class)->places('en'),
            new CopyFolder($folder, 1_700_000_000, static fn (int $bytes) => null),
            new Told($chats, $words, 'en'), 'en',
            [
                'backup' => '01a00000-0000-7000-8000-000000000001', 'fingerprint' => str_repeat('ab', 32),
                'edition' => 'Otterpost', 'account' => Chats::OWNER, 'customer' => 'Ada Quay',
                'taken_at' => new \DateTimeImmutable('@1700000000'),
            ],
        );
    }

    /**
     * @param list<string> $texts
     *
     * @return list<Message>
     */
    private static function texts(array $texts): array
    {
        return array_map(
            static fn (string $text, int $n): Message => Chats::text($text, 1_700_000_000_000 + $n), $texts,
            array_keys($texts),
        );
    }

    private static function withPicture(string $picture): Message
    {
        return Chats::text('', 1_700_000_000_001)->with(['kind' => Kind::Photo, 'text' => null, 'attachments' => [
            new Attachment(
                'a.jpg', 'a.jpg', 'image/jpeg', strlen($picture), hash('sha256', $picture), Presence::Present,
            ),
        ]]);
    }

    private static function picture(): string
    {
        $image = imagecreatetruecolor(900, 600);
        self::assertNotFalse($image);
        imagefilledrectangle($image, 0, 0, 450, 600, 0x8A2F4B);
        ob_start();
        imagejpeg($image);

        return (string) ob_get_clean();
    }

    private static function read(string $pdf): string
    {
        return (new Process(['pdftotext', '-layout', $pdf, '-']))->mustRun()->getOutput();
    }

    private static function code(string $pdf): string
    {
        self::assertSame(1, preg_match('/Check code ([0-9A-Z-]{14}):/', self::read($pdf), $found));

        return $found[1];
    }

    private static function reversed(string $text): string
    {
        return implode('', array_reverse(mb_str_split($text)));
    }
}
