<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Customer;

use Geschenk\App\DataFolder;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/** A customer is one record, however often they come; and nobody is somebody else for having their name. */
final class CustomersTest extends ApiTestCase
{
    private const NEW = ['consent' => true, 'errand' => 'only_back_up', 'giving' => Phones::GIVING];

    protected function setUp(): void
    {
        parent::setUp();
        $this->signIn();
        $this->giving = Phones::giving(self::getContainer()->get(DataFolder::class)->phones());
        DemoMaker::rest($this->giving->data('otterpost'));
        $this->look();
    }

    public function testWhoComesAgainIsTheSameAndANamesakeIsNot(): void
    {
        $first = $this->openAndClose(['customer' => 'Ärmel Quay', 'contact' => 'the café', 'language' => 'de']);
        $ada = $this->found('ärmel')[0];
        self::assertSame(
            ['Ärmel Quay', 'the café', 'de', 1, $first],
            [$ada['name'], $ada['contact'], $ada['language'], $ada['trays'], $ada['last_tray']],
        );
        $again = $this->openAndClose(['known' => $ada['id'], 'customer' => 'Ärmel Quay', 'contact' => 'the café']);
        self::assertSame([[$ada['id'], 2, $again]], $this->briefly('quay'));
        $namesake = $this->openAndClose(['customer' => 'Ärmel Quay', 'contact' => 'the café']);
        $both = $this->briefly('QUAY café');
        self::assertSame([[1, $namesake], [2, $again]], array_map(
            static fn (array $one): array => array_slice($one, 1), $both,
        ));
        self::assertNotSame($both[0][0], $both[1][0]);
        foreach (['%', '', ' ', 'a', ' q ', 'nobody', 'quay nobody', "' OR 1 = 1"] as $words) {
            self::assertSame([], $this->found($words), $words);
        }
        $this->call('POST', '/api/customers/find', ['words' => str_repeat('x', 121)], 422);
        self::assertSame('no_such_customer', $this->refusal('POST', '/api/trays', [
            'known' => 999, 'customer' => 'x', 'contact' => 'y',
        ] + self::NEW));
        $this->call('POST', '/api/trays', ['known' => -1, 'customer' => 'x', 'contact' => 'y'] + self::NEW, 422);
        self::assertCount(3, (array) $this->call('GET', '/api/trays')['trays'], 'What is refused opens nothing.');
    }

    public function testWhatIsToldAnewCountsFromNowOnAndNotOnWhatWasSigned(): void
    {
        $first = $this->openAndClose(['customer' => 'Ada Quay', 'contact' => 'the café', 'language' => 'en']);
        $sheet = $this->sheet($first);
        $id = $this->found('ada')[0]['id'];
        $second = $this->call('POST', '/api/trays', [
            'known' => $id, 'customer' => 'Ada Harbour', 'contact' => 'the quay', 'language' => 'en',
        ] + self::NEW, 201)['number'];
        self::assertIsInt($second);
        // What was written down otherwise before is noted.
        self::assertContains('corrected', array_column(
            (array) $this->call('GET', "/api/trays/$second")['steps'], 'code',
        ));
        self::assertSame([], $this->found('café'));
        self::assertSame('Ada Harbour', $this->found('quay')[0]['name']);
        $this->call('PUT', "/api/trays/$second/customer", [
            'customer' => 'Ada Seaside', 'contact' => 'the quay', 'language' => 'en',
        ]);
        self::assertSame('Ada Seaside', $this->call('GET', "/api/trays/$second")['customer']);
        // The sheet that they signed says what they signed.
        self::assertSame('Ada Quay', $this->call('GET', "/api/trays/$first")['customer']);
        self::assertSame($sheet, $this->sheet($first));
        // Opened anew it is today's affair again.
        $this->call('POST', "/api/trays/$second/withdraw", ['number' => "$second", 'keep' => true]);
        $again = $this->openAndClose(['known' => $id, 'customer' => 'Ada Seaside', 'contact' => 'the quay']);
        self::assertNotContains('corrected', array_column(
            (array) $this->call('GET', "/api/trays/$again")['steps'], 'code',
        ));
        self::assertSame('Ada Seaside', $this->call('POST', "/api/trays/$first/reopen", [])['customer']);
        $this->browser->request('GET', "/trays/$second/sheet");
        self::assertStringContainsString('Ada Seaside', (string) $this->browser->getResponse()->getContent());
    }

    /**
     * @param array<string, mixed> $told
     *
     * @return int its number
     */
    private function openAndClose(array $told): int
    {
        $number = $this->call('POST', '/api/trays', $told + self::NEW, 201)['number'];
        self::assertIsInt($number);
        $this->call('POST', "/api/trays/$number/withdraw", ['number' => "$number", 'keep' => true]);

        return $number;
    }

    private function sheet(int $number): string
    {
        $this->browser->request('GET', "/trays/$number/sheet");
        self::assertResponseIsSuccessful();

        return (string) preg_replace('/nonce="[^"]+"/', '', (string) $this->browser->getResponse()->getContent());
    }

    /** @return list<array<string, mixed>> */
    private function found(string $words): array
    {
        /** @var list<array<string, mixed>> $found */
        $found = $this->call('POST', '/api/customers/find', ['words' => $words])['customers'];

        return $found;
    }

    /** @return list<array{mixed, mixed, mixed}> id, trays and the newest one's number */
    private function briefly(string $words): array
    {
        return array_map(
            static fn (array $one): array => [$one['id'], $one['trays'], $one['last_tray']], $this->found($words),
        );
    }
}
