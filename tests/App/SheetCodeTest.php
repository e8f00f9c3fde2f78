<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\CheckCodes;
use Geschenk\App\Entity\Tray;
use Geschenk\App\View\SheetCode;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Component\Console\Tester\CommandTester;

/** The code on a hand-over sheet, which says later whether the sheet tells what the records hold. */
final class SheetCodeTest extends ApiTestCase
{
    public function testTheSheetOfEachCheckIsKnownAgainAndNoOther(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $first = $this->codeOnSheet($n);
        self::assertSame('newest', $this->is($n, $first));
        self::assertSame('newest', $this->is($n, strtolower(str_replace('-', ' ', $first))));
        // What looks alike is read as what was meant.
        self::assertSame('newest', $this->is($n, strtr($first, ['0' => 'o', '1' => 'l'])));
        $this->call('POST', "/api/trays/$n/sheet-code", ['code' => ''], 422);

        $this->askAndWork($n, ['kind' => 'check']);
        $second = $this->codeOnSheet($n);
        self::assertNotSame($first, $second);
        self::assertSame(['earlier', 'newest'], [$this->is($n, $first), $this->is($n, $second)]);
        foreach ($this->others($second) as $other) {
            self::assertSame('none', $this->is($n, $other), $other);
        }
        $this->handOver($n);
        self::assertSame($second, $this->codeOnSheet($n), 'The hand-over changes nothing that the sheet tells.');
        self::assertSame('newest', $this->is($n, $second));

        // Whoever changes a number in the records has another sheet.
        $connection = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        $connection->executeStatement(
            "UPDATE arrival_check SET totals = json_set(totals, '$.arrived', json_extract(totals, '$.arrived') - 1)",
        );
        self::assertSame(['none', 'none'], [$this->is($n, $first), $this->is($n, $second)]);
    }

    public function testAnotherInstallationsSecretMakesAnotherCodeAndTheOneBeforeIsStillKnown(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $tray = $entities->getRepository(Tray::class)->findOneBy(['number' => $n]);
        self::assertInstanceOf(Tray::class, $tray);
        $before = new SheetCode($entities, new CheckCodes('the secret of before'));
        $now = new SheetCode($entities, new CheckCodes('the secret of now', 'the secret of before'));
        self::assertMatchesRegularExpression('/^([0-9A-HJKMNP-TV-Z]{4}-){2}[0-9A-HJKMNP-TV-Z]{4}$/D', $now->of($tray));
        self::assertNotSame($before->of($tray), $now->of($tray));
        self::assertNotNull($now->find($tray, $before->of($tray)));
        self::assertNull($before->find($tray, $now->of($tray)));
    }

    private function codeOnSheet(int $n): string
    {
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertSame(1, preg_match('/Check code ([0-9A-Z]{4}-[0-9A-Z]{4}-[0-9A-Z]{4})\./', $sheet, $found));

        return $found[1];
    }

    /**
     * @return string "newest", "earlier" or "none", as both the page and the command say it
     *
     * @phpstan-impure
     */
    private function is(int $n, string $code): string
    {
        $answer = $this->call('POST', "/api/trays/$n/sheet-code", ['code' => $code]);
        $text = $this->text($answer, 'text');
        $is = match (true) {
            str_contains($text, 'what the records hold, by the check of') => 'newest',
            str_contains($text, 'of an earlier check') => 'earlier',
            default => 'none',
        };
        self::assertSame('none' !== $is, $answer['same']);
        $kernel = self::$kernel ?? self::fail();
        $command = new CommandTester((new Application($kernel))->find('sheet:verify'));
        self::assertSame('none' === $is ? 1 : 0, $command->execute(['tray' => (string) $n, 'code' => $code]));
        $sums = array_map('strval', array_filter((array) $answer['sums'], is_string(...)));
        self::assertSame([$text, ...$sums], explode("\n", trim($command->getDisplay())));
        self::assertCount('none' === $is ? 0 : 1, $sums, 'The sums stand there, to be held against the paper.');
        self::assertSame(2, $command->execute(['tray' => '99', 'code' => $code]));

        return $is;
    }

    /** @return list<string> with one letter changed, two in each other's place, one missing, and of nothing at all */
    private function others(string $code): array
    {
        return [
            substr_replace($code, '7' === $code[0] ? '8' : '7', 0, 1), substr($code, 0, -1), $code.'2',
            strrev($code) === $code ? '0' : strrev($code), str_repeat('Z', 12), '%00', 'ÄÖÜ',
        ];
    }
}
